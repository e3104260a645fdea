package dev.dusky.core.draft;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.Every;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.FilePattern;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Guesses from the names, times and sizes of files when files come and how large they are. It
 * suggests only what nearly all periods show; files that were copied together show no times.
 */
public final class HabitGuess {

  /** Periods of a kind that must be seen, and of them the part that must look alike. */
  private static final int LEAST_PERIODS = 5;

  private static final double ALIKE = 0.9;

  /** Of the periods this part must have files that were written on separate days. */
  private static final double WRITTEN_APART = 0.75;

  /** Added to the latest time seen, before it is rounded up to a half hour. */
  private static final Duration MARGIN = Duration.ofMinutes(15);

  private static final long HALF_HOUR = 1800;
  private static final Set<DayOfWeek> WEEKDAYS = EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY);
  private static final Set<DayOfWeek> ALL_DAYS = EnumSet.allOf(DayOfWeek.class);

  private final FilePattern pattern;
  private final List<StagedFile> files;
  private final Optional<String> day;

  /** A guess from these files of a feed. */
  public HabitGuess(FilePattern pattern, List<StagedFile> files) {
    this.pattern = pattern;
    this.files = files;
    this.day =
        pattern.dateNames().size() == 1
            ? pattern.dateNames().stream().findFirst()
            : Optional.empty();
  }

  /** What the files suggest. */
  public HabitDraft guess() {
    List<Evidence> evidence = new ArrayList<>();
    Optional<Timetable> arrivals = arrivals(evidence);
    boolean steady = steady(evidence);
    return new HabitDraft(arrivals, steady, evidence);
  }

  private Optional<LocalDate> dayOf(StagedFile file) {
    if (day.isEmpty()) {
      return Optional.of(file.modified().atZone(ZoneOffset.UTC).toLocalDate());
    }
    try {
      return Optional.of(
          LocalDate.parse(pattern.captures(file.path()).getOrDefault(day.get(), "")));
    } catch (DateTimeParseException e) {
      return Optional.empty(); // a date that does not exist
    }
  }

  private Optional<Timetable> arrivals(List<Evidence> evidence) {
    TreeMap<LocalDate, List<StagedFile>> days = new TreeMap<>();
    for (StagedFile file : files) {
      dayOf(file).ifPresent(d -> days.computeIfAbsent(d, x -> new ArrayList<>()).add(file));
    }
    if (days.size() < LEAST_PERIODS) {
      return Optional.empty();
    }
    for (Every every : List.of(Every.DAY, Every.WEEK, Every.MONTH)) {
      Optional<Timetable> found = regular(every, days, evidence);
      if (found.isPresent()) {
        return found;
      }
    }
    return Optional.empty();
  }

  private Optional<Timetable> regular(
      Every every, TreeMap<LocalDate, List<StagedFile>> days, List<Evidence> evidence) {
    TreeMap<ZonedDateTime, List<StagedFile>> periods = new TreeMap<>();
    days.forEach(
        (date, on) ->
            periods
                .computeIfAbsent(
                    every.begin(date.atStartOfDay(ZoneOffset.UTC)), x -> new ArrayList<>())
                .addAll(on));
    Set<DayOfWeek> on = on(every, days.keySet());
    long expected = 0;
    for (ZonedDateTime p = periods.firstKey(); !p.isAfter(periods.lastKey()); p = every.next(p)) {
      expected += on.contains(p.getDayOfWeek()) ? 1 : 0;
    }
    long apart =
        periods.values().stream()
            .map(come -> come.get(0).modified().atZone(ZoneOffset.UTC).toLocalDate())
            .distinct()
            .count();
    Duration latest =
        periods.entrySet().stream()
            .flatMap(
                e ->
                    e.getValue().stream()
                        .map(f -> Duration.between(e.getKey().toInstant(), f.modified())))
            .max(Duration::compareTo)
            .orElseThrow();
    Duration due = roundedUp(latest.plus(MARGIN));
    int[] counts = periods.values().stream().mapToInt(List::size).sorted().toArray();
    int usual = counts[counts.length / 2];
    boolean same = Arrays.stream(counts).filter(c -> c == usual).count() >= ALIKE * counts.length;
    if (periods.size() < LEAST_PERIODS
        || !same && every != Every.DAY // some file in most weeks is not a habit
        || periods.size() < ALIKE * expected
        || apart < WRITTEN_APART * periods.size()
        || due.isNegative()
        || due.toDays() > Timetable.MOST_DUE_DAYS) {
      return Optional.empty();
    }
    Timetable timetable =
        new Timetable(
            every,
            (int) due.toDays(),
            LocalTime.ofSecondOfDay(due.toSeconds() % 86_400),
            ZoneOffset.UTC,
            same ? usual : counts[0],
            !same,
            on,
            Set.of(),
            Optional.empty(),
            day,
            Optional.empty());
    evidence.add(
        new Evidence(
            "arrivals",
            words(timetable),
            "%d of %d periods have files, the latest %s after the period began"
                .formatted(periods.size(), expected, hours(latest)),
            periods.size() < expected || !same));
    return Optional.of(timetable);
  }

  private static String words(Timetable timetable) {
    boolean weekdays = timetable.days().size() < ALL_DAYS.size();
    return "every %s by %s%s UTC, %d%s %s"
        .formatted(
            weekdays ? "weekday" : timetable.every().label(),
            timetable.dueDays() == 0 ? "" : timetable.dueDays() + " d ",
            timetable.by(),
            timetable.files(),
            timetable.orMore() ? " or more" : "",
            timetable.files() == 1 && !timetable.orMore() ? "file" : "files");
  }

  /** The days of the week on which files come; weeks and months have no such days. */
  private static Set<DayOfWeek> on(Every every, Set<LocalDate> days) {
    if (every != Every.DAY) {
      return ALL_DAYS;
    }
    Set<DayOfWeek> seen =
        days.stream().map(LocalDate::getDayOfWeek).collect(Collectors.toCollection(HashSet::new));
    return WEEKDAYS.containsAll(seen) ? WEEKDAYS : ALL_DAYS;
  }

  private static Duration roundedUp(Duration span) {
    return Duration.ofSeconds(
        Math.floorDiv(span.toSeconds() + HALF_HOUR - 1, HALF_HOUR) * HALF_HOUR);
  }

  private static String hours(Duration span) {
    return "%d:%02d h".formatted(span.toHours(), Math.abs(span.toMinutesPart()));
  }

  /** Whether no file differs much from those before it, once enough are known. */
  private boolean steady(List<Evidence> evidence) {
    List<Volume> all = files.stream().map(f -> volume(f.path(), f.modified(), f.size())).toList();
    if (all.size() < 2 * Volume.LEAST) {
      return false;
    }
    long odd = all.stream().filter(v -> v.unusual(all).isPresent()).count();
    boolean steady = odd <= (1 - ALIKE) * all.size();
    if (steady) {
      evidence.add(
          new Evidence(
              "volume",
              "usual",
              String.format(
                  Locale.ROOT,
                  "%d of %d files have a size that is alike",
                  all.size() - odd,
                  all.size()),
              odd > 0));
    }
    return steady;
  }

  private static Volume volume(String path, Instant at, long size) {
    return new Volume(path, at, size, size, 0, size, java.util.Map.of());
  }
}
