package dev.dusky.depots;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.notice.NoticeQueue;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.azure.AzureDepot;
import dev.dusky.depots.directory.DirectoryDepot;
import dev.dusky.depots.queue.QueueAddress;
import dev.dusky.depots.queue.SqsQueue;
import dev.dusky.depots.s3.S3Depot;
import dev.dusky.depots.sftp.SftpDepot;
import dev.dusky.depots.web.WebDepot;
import java.nio.file.Path;

/** Opens depots. To add a kind, write a {@link Depot} and name it here. */
public final class Depots {

  /** The forms of places that depots can be at. */
  public static final String FORMS =
      "file:DIRECTORY, s3://bucket/prefix, gs://bucket/prefix, azure://account/container/prefix,"
          + " https://host/folder or sftp://host/folder";

  private Depots() {}

  /**
   * Opens the depot at that address; nothing is reached before it is used.
   *
   * @param base the directory that relative ones start from
   */
  public static Depot open(DepotAddress address, Path base) {
    switch (address.scheme()) {
      case "file":
        return new DirectoryDepot(
            address.name(), base.resolve(address.at().substring("file:".length())).normalize());
      case "s3", "gs":
        return new S3Depot(address);
      case "azure":
        return new AzureDepot(address);
      case "http", "https":
        return new WebDepot(address);
      case "sftp":
        return new SftpDepot(address);
      default:
        throw Failure.configuration("depot " + address.name() + " is at " + address.at())
            .because("a depot cannot be there")
            .hint("Write at: as " + FORMS);
    }
  }

  /** Opens the queue at that address; nothing is reached before it is used. */
  public static NoticeQueue open(QueueAddress address) {
    return new SqsQueue(address);
  }
}
