package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/** Puts local files into a depot. */
public final class StageFiles {

  private static final int MOST_PARALLEL = 64;

  private final Depot depot;
  private final List<LocalFile> files;

  /** Files to be staged. */
  public StageFiles(Workspace workspace, String depot, ChosenLocalFiles chosen) {
    this.depot = workspace.depot(depot);
    this.files = chosen.find();
  }

  /** The files. */
  public List<LocalFile> files() {
    return files;
  }

  /**
   * Stages them, several at a time.
   *
   * @param manifest where in the depot a manifest of them is written once all are there
   */
  public StageResult run(StagePlan plan, Optional<String> manifest, StageListener listener)
      throws IOException {
    if (plan.connections() < 1 || plan.connections() > MOST_PARALLEL) {
      throw Failure.usage("--parallel must be from 1 to " + MOST_PARALLEL);
    }
    StagedManifest entries =
        manifest.isPresent() ? new StagedManifest(manifest.get(), files) : null;
    StageResult result = new Stager(depot, plan).run(files, listener);
    if (entries != null && result.whole()) {
      entries.write(depot);
    }
    return result;
  }
}
