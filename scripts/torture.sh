#!/usr/bin/env bash
# Tortures the program for a while: scripts/torture.sh SECONDS [SEED]
# Files with known rows arrive while loads, watchers and merges are killed, lose their connections
# and their PostgreSQL; then the tables are held against what is known. Exit code 0 if all is right.
set -euo pipefail
cd "$(dirname "$0")/.."
mvn -q -B package -DskipTests -am -pl cli dependency:build-classpath \
  -Dmdep.outputFile=target/torture-classpath -Dmdep.includeScope=test
cd cli
java -cp "target/test-classes:target/classes:$(cat target/torture-classpath)" \
  dev.dusky.cli.torture.Torture "$@"
