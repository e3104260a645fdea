package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.LoadLedger;
import java.util.Optional;

/**
 * Moves or removes posted files as their feed declares. What is due is in the ledger since the
 * post, so that the next process completes what a dead process left.
 */
final class DueFiles {

  /** How many names beside the taken one are tried. */
  private static final int MOST_NAMES = 20;

  private final LoadLedger ledger;
  private final Depot depot;
  private final LoadListener listener;

  DueFiles(LoadLedger ledger, Depot depot, LoadListener listener) {
    this.ledger = ledger;
    this.depot = depot;
    this.listener = listener;
  }

  /** Does all that is due for a feed. What fails is reported and stays due. */
  void settle(Feed feed) {
    ledger.settleDue(
        ledger.due(feed.name()),
        file -> {
          try {
            return Optional.of(settle(file));
          } catch (Failure failure) {
            if (failure.kind() != Failure.Kind.DEPOT) {
              throw failure;
            }
            listener.remark(
                "%s is posted but still in the depot: %s"
                    .formatted(file.path(), failure.getMessage()));
            return Optional.empty();
          }
        });
  }

  /** A file that is gone was processed before; one that has changed is another one. */
  private DueFile settle(DueFile file) {
    Optional<StagedFile> now =
        depot.look(file.path()).filter(found -> found.version().equals(file.version()));
    if (now.isPresent() && file.target().isPresent()) {
      return archive(now.get(), file, file.target().get());
    }
    now.ifPresent(depot::remove);
    return file;
  }

  /** Moves a file to its archive path, or to one beside it if another file is there. */
  private DueFile archive(StagedFile now, DueFile file, String target) {
    String free = target;
    for (int i = 1; !depot.move(now, free); i++) {
      if (i > MOST_NAMES) {
        throw Failure.depot(target + " and " + MOST_NAMES + " names like it are taken")
            .because("archiving never overwrites a file")
            .hint("Clear the archive folder, or choose another one; the file stays due");
      }
      free = target + "." + file.fileId() + (i == 1 ? "" : "-" + i);
    }
    if (!free.equals(target)) {
      listener.remark(
          "%s is archived as %s: another file is at %s".formatted(file.path(), free, target));
    }
    return file.withTarget(free);
  }
}
