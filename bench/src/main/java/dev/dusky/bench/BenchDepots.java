package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.DepotAddress;
import dev.dusky.depots.Depots;
import java.nio.file.Path;
import java.util.Optional;

/** The depots of the benchmarks. */
final class BenchDepots {

  private BenchDepots() {}

  static Depot directory(Path yard) {
    Optional<Secret> none = Optional.empty();
    return Depots.open(
        new DepotAddress("yard", "file:" + yard, Optional.empty(), "", none, none, false),
        Path.of("."));
  }

  /** The bucket {@code bench} of a stand-in whose access key is "key" and secret key "secret". */
  static Depot store(String endpoint) {
    Optional<Secret> key = Optional.of(new Secret(() -> "key"));
    Optional<Secret> secret = Optional.of(new Secret(() -> "secret"));
    return Depots.open(
        new DepotAddress(
            "yard", "s3://bench", Optional.of(endpoint), "us-east-1", key, secret, true),
        Path.of("."));
  }
}
