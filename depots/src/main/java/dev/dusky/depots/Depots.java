package dev.dusky.depots;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import java.nio.file.Path;

/** Opens depots. To add a kind, write a {@link Depot} and name it here. */
public final class Depots {

  private Depots() {}

  /**
   * Opens the depot at that address; nothing is reached before it is used.
   *
   * @param base the directory that relative ones start from
   */
  public static Depot open(DepotAddress address, Path base) {
    if (address.at().startsWith("file:")) {
      return new DirectoryDepot(
          address.name(), base.resolve(address.at().substring("file:".length())).normalize());
    }
    if (address.at().startsWith("s3://")) {
      return new S3Depot(address);
    }
    throw Failure.configuration("depot " + address.name() + " is at " + address.at())
        .because("that is neither file:DIRECTORY nor s3://bucket/prefix")
        .hint("Correct at: in the configuration");
  }
}
