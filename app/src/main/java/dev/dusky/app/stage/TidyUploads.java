package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StaleUpload;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Drops uploads that nobody will finish. */
public final class TidyUploads {

  /** A younger upload may be under way. */
  public static final Duration OLD = Duration.ofDays(1);

  private final Depot depot;
  private final Instant before;

  /**
   * Uploads of a depot.
   *
   * @param age how long ago an upload must have begun
   */
  public TidyUploads(Workspace workspace, String depot, Duration age) {
    this.depot = workspace.depot(depot);
    this.before = Instant.now().minus(age);
  }

  /** Drops those that are old enough, telling each, and gives how many others there are. */
  public int run(boolean rehearse, Consumer<StaleUpload> dropped) {
    List<StaleUpload> younger = new ArrayList<>();
    for (StaleUpload upload : depot.unfinished()) {
      if (upload.begun().isAfter(before)) {
        younger.add(upload);
        continue;
      }
      if (!rehearse) {
        depot.drop(upload);
      }
      dropped.accept(upload);
    }
    return younger.size();
  }
}
