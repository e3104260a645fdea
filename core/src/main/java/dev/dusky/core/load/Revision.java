package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * A file that changed after it was posted.
 *
 * @param file the file as it is now
 * @param posted the version that was posted
 */
record Revision(StagedFile file, FileEntry posted) {

  /** Stops at the file: it is marked as revised and not read. */
  FileResult halt(FileClaim claim) {
    String message =
        ("its content changed after it was posted in load %d (size and mark were %s, are %s); it was"
                + " not read. Stage it under a new name to load it too, or put the old content back")
            .formatted(posted.loadId().orElse(0L), posted.version(), file.version());
    try (RejectSpool none = new RejectSpool()) {
      claim.settle(
          new FileOutcome(
              FileState.REVISED,
              Tally.NONE,
              0,
              0,
              Optional.empty(),
              Duration.ZERO,
              Optional.empty(),
              message,
              new byte[0],
              Optional.empty(),
              List.of(),
              FileOutcome.Repeats.NONE),
          none);
    }
    return FileResult.passed(file, FileState.REVISED, Duration.ZERO, message);
  }
}
