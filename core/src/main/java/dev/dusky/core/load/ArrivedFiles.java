package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.Since;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Iterator;
import java.util.NoSuchElementException;
import java.util.Optional;

/**
 * The staged files that a feed takes, in the order of the listing. Where the feed takes files since
 * a day only, the listing jumps over those that are older.
 */
final class ArrivedFiles implements Iterator<StagedFile> {

  /** The number of consecutive old files after which the listing starts again behind them. */
  private static final int OLD_BEFORE_JUMP = 300;

  private final Depot depot;
  private final FilePattern files;
  private final String capture;
  private final String first;
  private final String dayBefore;
  private Iterator<StagedFile> listing;
  private int old;
  private StagedFile next;

  ArrivedFiles(Depot depot, Feed feed, Instant now) {
    this.depot = depot;
    this.files = feed.files();
    Optional<Since> since = feed.policies().arrivals().since();
    this.capture = since.map(Since::capture).orElse(null);
    Optional<LocalDate> day = since.map(s -> s.first(now));
    this.first = day.map(LocalDate::toString).orElse("");
    // Behind all that begins with the day before.
    this.dayBefore = day.map(d -> d.minusDays(1) + "~").orElse("");
    String prefix = files.prefix();
    boolean first =
        since.isPresent() && files.toString().startsWith(prefix + "{" + capture + ":date}");
    this.listing = depot.list(prefix, first ? prefix + dayBefore : "");
  }

  @Override
  public boolean hasNext() {
    while (next == null && listing.hasNext()) {
      StagedFile file = listing.next();
      if (!files.matches(file.path())) {
        continue;
      }
      int at = capture == null ? -1 : files.captureAt(file.path(), capture);
      if (at < 0 || file.path().substring(at).compareTo(first) >= 0) {
        old = 0;
        next = file;
      } else if (++old == OLD_BEFORE_JUMP) {
        old = 0;
        listing = depot.list(files.prefix(), file.path().substring(0, at) + dayBefore);
      }
    }
    return next != null;
  }

  @Override
  public StagedFile next() {
    if (!hasNext()) {
      throw new NoSuchElementException();
    }
    StagedFile file = next;
    next = null;
    return file;
  }
}
