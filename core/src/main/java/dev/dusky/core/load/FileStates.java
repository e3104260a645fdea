package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Ledger;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.Optional;

/**
 * A feed's files in the order of their paths, each with its state in the ledger. Listing and
 * look-up go page by page; neither the depot's listing nor the ledger is ever held as a whole.
 */
public final class FileStates implements Iterator<KnownFile> {

  private static final int PAGE = 500;

  private final Ledger ledger;
  private final Feed feed;
  private final Iterator<StagedFile> listing;
  private final Deque<KnownFile> page = new ArrayDeque<>();

  /** Starts listing. */
  public FileStates(Ledger ledger, Depot depot, Feed feed) {
    this(ledger, feed, depot.list(feed.files().prefix()));
  }

  private FileStates(Ledger ledger, Feed feed, Iterator<StagedFile> files) {
    this.ledger = ledger;
    this.feed = feed;
    this.listing = files;
  }

  /** The states of some files of the feed. */
  static FileStates of(Ledger ledger, Feed feed, List<StagedFile> files) {
    return new FileStates(ledger, feed, files.iterator());
  }

  @Override
  public boolean hasNext() {
    while (page.isEmpty() && listing.hasNext()) {
      fill();
    }
    return !page.isEmpty();
  }

  @Override
  public KnownFile next() {
    if (!hasNext()) {
      throw new NoSuchElementException();
    }
    return page.remove();
  }

  private void fill() {
    List<StagedFile> files = new ArrayList<>(PAGE);
    while (files.size() < PAGE && listing.hasNext()) {
      StagedFile file = listing.next();
      if (feed.files().matches(file.path())) {
        files.add(file);
      }
    }
    Map<String, List<FileEntry>> known =
        ledger.files(feed.name(), files.stream().map(StagedFile::path).toList());
    for (StagedFile file : files) {
      page.add(know(file, known.getOrDefault(file.path(), List.of())));
    }
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
