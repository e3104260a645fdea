package dev.dusky.app.workspace;

import dev.dusky.core.concurrent.Together;
import dev.dusky.core.expect.Attendance;
import dev.dusky.core.expect.Came;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FeedEntries;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.ledger.PostedSummary;
import dev.dusky.core.ledger.WatchEntry;
import dev.dusky.core.load.KnownFile;
import dev.dusky.core.load.KnownFiles;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The state of a feed at one moment, from its depot and the ledger.
 *
 * @param feed its name
 * @param unlisted why its depot cannot be listed now, if it cannot
 * @param states how many of its staged files are in which state; as the ledger has them if its
 *     depot cannot be listed
 * @param bytes the stored size of those that wait
 * @param oldest when the oldest of those that wait was written
 * @param posted what the ledger has of it
 * @param watched the state of watching it
 * @param pause who holds it, if anybody does
 * @param expected the periods of the last {@link #LOOK_BACK} for which files are expected, earliest
 *     first; none if the feed has no timetable
 */
public record FeedStatus(
    String feed,
    Optional<String> unlisted,
    Map<FileState, Long> states,
    long bytes,
    Optional<Instant> oldest,
    PostedSummary posted,
    Optional<WatchEntry> watched,
    Optional<Pause> pause,
    List<Expected> expected) {

  private static final int AT_ONCE = 8;

  /** How far back missing and late files are looked for. */
  public static final Duration LOOK_BACK = Duration.ofDays(35);

  /** By how much a file may be seen before the day in its path. */
  private static final Duration EARLY = Duration.ofDays(7);

  /** Looks at feeds, at several at a time. */
  public static List<FeedStatus> of(Workspace workspace, List<Feed> feeds, Instant now) {
    workspace.warehouse(); // prepared once, before all
    return Together.map(feeds, AT_ONCE, feed -> of(workspace, feed, now));
  }

  /** Looks at a feed: its depot is listed, nothing is read. */
  public static FeedStatus of(Workspace workspace, Feed feed, Instant now) {
    FeedEntries book = workspace.warehouse().ledger().feeds();
    Map<FileState, Long> states = new EnumMap<>(FileState.class);
    Optional<Attendance> attendance =
        Optional.ofNullable(workspace.configuration().timetables().get(feed.name()))
            .map(timetable -> new Attendance(timetable, now.minus(LOOK_BACK)));
    long bytes = 0;
    Instant oldest = null;
    Optional<String> unlisted = Optional.empty();
    try {
      KnownFiles files =
          new KnownFiles(workspace.warehouse().ledger(), workspace.depot(feed), feed, now);
      while (files.hasNext()) {
        KnownFile known = files.next();
        states.merge(known.state(), 1L, Long::sum);
        if (known.postedBefore().isEmpty()) {
          attendance.ifPresent(
              a -> a.add(came(feed, known.file().path(), known.file().modified())));
        }
        if (known.state() == FileState.WAITING || known.state() == FileState.REVERSED) {
          bytes += known.file().size();
          Instant modified = known.file().modified();
          oldest = oldest == null || modified.isBefore(oldest) ? modified : oldest;
        }
      }
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.DEPOT) {
        throw failure;
      }
      unlisted = Optional.of(failure.getMessage());
      bytes = 0;
      oldest = null;
      states = book.states(feed.name());
    }
    return new FeedStatus(
        feed.name(),
        unlisted,
        states,
        bytes,
        Optional.ofNullable(oldest),
        book.posted(feed.name()),
        book.watched(feed.name()),
        book.pause(feed.name()),
        attendance.map(a -> expected(a, feed, book, now)).orElse(List.of()));
  }

  /** The periods of {@link #expected} by the ledger alone; none without a timetable. */
  public static List<Expected> expectedByLedger(Workspace workspace, Feed feed, Instant now) {
    Timetable timetable = workspace.configuration().timetables().get(feed.name());
    if (timetable == null) {
      return List.of();
    }
    Attendance attendance = new Attendance(timetable, now.minus(LOOK_BACK));
    return expected(attendance, feed, workspace.warehouse().ledger().feeds(), now);
  }

  /** How many files are due in these periods and did not come. */
  public static long missing(List<Expected> periods) {
    return periods.stream()
        .filter(e -> e.verdict() == Expected.Verdict.MISSING)
        .mapToLong(e -> e.files() - e.came())
        .sum();
  }

  /** What came by the ledger too: files may have left the depot, or changed since they came. */
  private static List<Expected> expected(
      Attendance attendance, Feed feed, FeedEntries book, Instant now) {
    book.firstSeen(feed.name()).ifPresent(attendance::begun);
    book.arrived(feed.name(), now.minus(LOOK_BACK).minus(EARLY))
        .forEach((path, at) -> attendance.add(came(feed, path, at)));
    return attendance.expected(now);
  }

  private static Came came(Feed feed, String path, Instant at) {
    return new Came(path, feed.files().captures(path), at);
  }

  /** How many files are due and did not come. */
  public long missing() {
    return missing(expected);
  }

  /** How many files wait to be loaded. */
  public long waiting() {
    return states.getOrDefault(FileState.WAITING, 0L) + states.getOrDefault(FileState.REVERSED, 0L);
  }

  /** How many files wait for a person. */
  public long held() {
    return states.getOrDefault(FileState.REFUSED, 0L) + states.getOrDefault(FileState.REVISED, 0L);
  }

  /**
   * What it does, in one word: {@code paused}, {@code failing}, {@code waiting}, {@code current}.
   */
  public String word() {
    if (pause.isPresent()) {
      return "paused";
    }
    if (unlisted.isPresent() || watched.map(w -> w.failures() > 0).orElse(false)) {
      return "failing";
    }
    return waiting() > 0 ? "waiting" : "current";
  }
}
