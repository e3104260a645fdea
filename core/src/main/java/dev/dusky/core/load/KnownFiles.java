package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.LoadLedger;
import java.time.Instant;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/**
 * A feed's files in the order of their paths, each with its state in the ledger. Listing and
 * look-up go beside one another in the same order; neither the depot's listing nor the ledger is
 * ever held as a whole.
 */
public final class KnownFiles implements Iterator<KnownFile> {

  private final LedgerCursor ledger;
  private final Iterator<StagedFile> listing;

  /** Starts listing what there is at that moment. */
  public KnownFiles(LoadLedger ledger, Depot depot, Feed feed, Instant now) {
    this(ledger, feed, new ArrivedFiles(depot, feed, now));
  }

  private KnownFiles(LoadLedger ledger, Feed feed, Iterator<StagedFile> files) {
    this.ledger = new LedgerCursor(ledger, feed.name());
    this.listing = files;
  }

  /** The states of some files of the feed. */
  static KnownFiles of(LoadLedger ledger, Feed feed, List<StagedFile> files) {
    return new KnownFiles(ledger, feed, files.iterator());
  }

  @Override
  public boolean hasNext() {
    return listing.hasNext();
  }

  @Override
  public KnownFile next() {
    StagedFile file = listing.next();
    return know(file, ledger.of(file.path()));
  }

  private static KnownFile know(StagedFile file, List<FileEntry> entries) {
    Optional<FileEntry> same =
        entries.stream().filter(e -> e.version().equals(file.version())).findFirst();
    Optional<FileEntry> posted =
        entries.stream()
            .filter(e -> e.state() == FileState.POSTED && !e.version().equals(file.version()))
            .reduce((first, second) -> second);
    return new KnownFile(file, same, posted);
  }
}
