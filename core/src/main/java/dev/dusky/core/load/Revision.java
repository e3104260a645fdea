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
import java.util.Map;
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
    return mark(
        claim,
        "%s; it was not read. Stage it under a new name to load it too, put the old content back, or"
                .formatted(change())
            + " set revised: replace in the feed");
  }

  /** Notes that the feed takes no notice of the change. */
  FileResult ignore(FileClaim claim) {
    return mark(claim, change() + "; the feed ignores that");
  }

  private String change() {
    return "its content changed after it was posted in load %d (size and mark were %s, are %s)"
        .formatted(posted.loadId().orElse(0L), posted.version(), file.version());
  }

  private FileResult mark(FileClaim claim, String message) {
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
              Map.of(),
              FileOutcome.Repeats.NONE,
              List.of()),
          none);
    }
    return FileResult.passed(file, FileState.REVISED, Duration.ZERO, message);
  }
}
