package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageListener.Outcome;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** Stores one local file under the rules of a staging. */
final class FileStore {

  private final Depot depot;
  private final StagePlan plan;
  private final Uplink uplink;

  FileStore(Depot depot, StagePlan plan, Uplink uplink) {
    this.depot = depot;
    this.plan = plan;
    this.uplink = uplink;
  }

  /**
   * Stores a file, unless it is there.
   *
   * @param there what is at that path of the depot
   */
  Outcome store(Path file, long size, String path, Optional<StagedFile> there) {
    if (there.isPresent() && depot.same(there.get(), file)) {
      return Outcome.SAME;
    }
    if (there.isPresent() && !plan.replace()) {
      return Outcome.DIFFERING;
    }
    StagedFile staged = depot.put(path, file, uplink);
    if (staged.size() != size) {
      throw Failure.file("Staging " + file + " failed")
          .because("the depot has %,d bytes of it, the file has %,d".formatted(staged.size(), size))
          .hint("The file may have changed meanwhile; stage it again with --replace");
    }
    return Outcome.STAGED;
  }

  /** Removes a local file whose content the depot has; one that has changed since stays. */
  static void remove(LocalFile file) {
    try {
      if (!changed(file)) {
        Files.delete(file.file());
        return;
      }
    } catch (IOException e) {
      throw Failure.file(file.file() + " was staged, but not removed")
          .because(String.valueOf(e.getMessage()))
          .hint("Remove it yourself")
          .from(e);
    }
    throw Failure.file(file.file() + " was staged, but not removed")
        .because("it has changed since")
        .hint("Stage it again with --replace");
  }

  /** Whether the file is another than when it was found. */
  static boolean changed(LocalFile file) throws IOException {
    return Files.size(file.file()) != file.size()
        || !Files.getLastModifiedTime(file.file()).toInstant().equals(file.modified());
  }
}
