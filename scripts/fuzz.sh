#!/usr/bin/env bash
# Fuzzes one target for a while: scripts/fuzz.sh core ReaderFuzzTest#delimited [SECONDS]
# What it finds is written beside the test's inputs, where every build runs it again.
set -euo pipefail
cd "$(dirname "$0")/.."
module=$1
target=$2
seconds=${3:-600}
mvn -q -B install -DskipTests -am -pl "$module"
JAZZER_FUZZ=1 timeout --signal=INT "$seconds" \
  mvn -B surefire:test@fuzz-inputs -Dfuzz.hooks=true -pl "$module" -Dtest="$target" -Dsurefire.failIfNoSpecifiedTests=false \
  || [ $? -eq 124 ]
