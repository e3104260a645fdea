package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Puts local files into a depot. */
public final class StageFiles {

  private static final int MOST_PARALLEL = 64;

  private final Depot depot;
  private final List<LocalFile> files;

  /**
   * Files to be staged.
   *
   * @param paths local files and directories
   * @param under the folder in the depot
   */
  public StageFiles(Workspace workspace, String depot, List<Path> paths, String under)
      throws IOException {
    this.depot = workspace.depot(depot);
    this.files = LocalFiles.find(paths, under);
  }

  /** The files. */
  public List<LocalFile> files() {
    return files;
  }

  /** Stages them, several at a time. */
  public StageResult run(boolean replace, int parallel, StageListener listener) {
    if (parallel < 1 || parallel > MOST_PARALLEL) {
      throw Failure.usage("--parallel must be from 1 to " + MOST_PARALLEL);
    }
    return new Stager(depot, replace, parallel).run(files, listener);
  }

  /** Writes a manifest of them to a path of the depot. */
  public void manifest(Optional<String> path) throws IOException {
    if (path.isPresent()) {
      StagedManifest.write(depot, path.get(), files);
    }
  }
}
