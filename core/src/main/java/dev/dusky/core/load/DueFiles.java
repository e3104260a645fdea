package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.Ledger;
import java.util.Optional;

/**
 * Moves or removes posted files as their feed says. What is due stands in the ledger since the
 * post, so that whoever comes next does what a process that died has left.
 */
final class DueFiles {

  private final Ledger ledger;
  private final Depot depot;
  private final LoadListener listener;

  DueFiles(Ledger ledger, Depot depot, LoadListener listener) {
    this.ledger = ledger;
    this.depot = depot;
    this.listener = listener;
  }

  /** Does all that is due of a feed. What fails is told and stays due. */
  void settle(Feed feed) {
    ledger.settleDue(
        ledger.due(feed.name()),
        file -> {
          try {
            settle(file);
            return true;
          } catch (Failure failure) {
            if (failure.kind() != Failure.Kind.DEPOT) {
              throw failure;
            }
            listener.remark(
                "%s is posted but still in the depot: %s"
                    .formatted(file.path(), failure.getMessage()));
            return false;
          }
        });
  }

  /** A file that is gone was dealt with before; one that has changed is another one. */
  private void settle(DueFile file) {
    Optional<StagedFile> now =
        depot.look(file.path()).filter(found -> found.version().equals(file.version()));
    if (now.isPresent() && file.target().isPresent()) {
      depot.move(now.get(), file.target().get());
    } else if (now.isPresent()) {
      depot.remove(now.get());
    }
  }
}
