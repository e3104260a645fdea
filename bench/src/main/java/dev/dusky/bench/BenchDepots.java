package dev.dusky.bench;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import java.nio.file.Path;

/** The depots of the benchmarks. */
final class BenchDepots {

  private BenchDepots() {}

  static Depot directory(Path yard) {
    return Depots.open(DepotAddress.of("yard", "file:" + yard), Path.of("."));
  }

  /** The bucket {@code bench} of a stand-in whose access key is "key" and secret key "secret". */
  static Depot store(String endpoint) {
    return Depots.open(
        DepotAddress.of("yard", "s3://bench")
            .at(endpoint)
            .signed(new Secret(() -> "key"), new Secret(() -> "secret")),
        Path.of("."));
  }
}
