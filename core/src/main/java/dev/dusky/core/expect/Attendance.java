package dev.dusky.core.expect;

import dev.dusky.core.expect.Expected.Verdict;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Compares the files that came with a timetable. A path counts once, at the time of its first
 * version, so that a correction makes no file late. Memory grows with the files of the periods that
 * are looked at, and with nothing else.
 */
public final class Attendance {

  private final Timetable timetable;
  private final ZonedDateTime earliest;
  private final Map<String, Came> came = new HashMap<>();
  private Instant first;

  /**
   * An empty book.
   *
   * @param since the period in which this lies is the first that is looked at
   */
  public Attendance(Timetable timetable, Instant since) {
    this.timetable = timetable;
    this.earliest = timetable.every().begin(since.atZone(timetable.zone()));
  }

  /** Enters a version of a file; of several versions of a path the latest is entered first. */
  public void add(Came file) {
    Optional<Instant> begin = begin(file);
    begin.ifPresent(this::begun);
    if (begin.isPresent()
        && (!begin.get().isBefore(earliest.toInstant()) || came.containsKey(file.path()))) {
      came.merge(file.path(), file, (a, b) -> a.at().isBefore(b.at()) ? a : b);
    }
  }

  private Optional<Instant> begin(Came file) {
    return file.belongs(timetable)
        .map(moment -> timetable.every().begin(moment.atZone(timetable.zone())).toInstant());
  }

  /** Notes that files came at that time or before it. */
  public void begun(Instant moment) {
    first = first == null || moment.isBefore(first) ? moment : first;
  }

  /**
   * The periods that have begun, the earliest first. Without a declared first day they begin with
   * the first file; there is none before any file came.
   */
  public List<Expected> expected(Instant now) {
    Optional<ZonedDateTime> start =
        timetable
            .from()
            .map(day -> day.atStartOfDay(timetable.zone()))
            .or(() -> Optional.ofNullable(first).map(f -> f.atZone(timetable.zone())));
    if (start.isEmpty()) {
      return List.of();
    }
    ZonedDateTime begin = timetable.every().begin(start.get());
    begin = begin.isBefore(earliest) ? earliest : begin;
    Map<Instant, List<Instant>> times =
        came.values().stream()
            .collect(
                Collectors.groupingBy(
                    file -> begin(file).orElseThrow(),
                    Collectors.mapping(Came::at, Collectors.toList())));
    List<Expected> periods = new ArrayList<>();
    for (; !begin.toInstant().isAfter(now); begin = timetable.every().next(begin)) {
      if (timetable.expects(begin)) {
        periods.add(judge(begin, times.getOrDefault(begin.toInstant(), List.of()), now));
      }
    }
    return periods;
  }

  private Expected judge(ZonedDateTime begin, List<Instant> times, Instant now) {
    Instant due = timetable.due(begin);
    int late = (int) times.stream().filter(at -> at.isAfter(due)).count();
    Verdict verdict;
    if (times.size() < timetable.files()) {
      verdict = now.isAfter(due) ? Verdict.MISSING : Verdict.AHEAD;
    } else if (times.size() > timetable.files() && !timetable.orMore()) {
      verdict = Verdict.TOO_MANY;
    } else {
      verdict = times.size() - late < timetable.files() ? Verdict.LATE : Verdict.WHOLE;
    }
    return new Expected(
        timetable.every().text(begin),
        begin.toInstant(),
        due,
        timetable.files(),
        times.size(),
        late,
        times.stream().max(Instant::compareTo),
        verdict);
  }
}
