package dev.dusky.cli.page;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.report.Report;
import dev.dusky.core.expect.Expected;
import dev.dusky.core.report.Settled;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * The figures that the page draws, as columns of numbers: what was settled by feed and day, and by
 * feed and hour for the last days. Days are counted from the first one, hours as 24 times the day.
 */
final class PageFigures {

  /** For how many days the page has hours. */
  static final int DAYS_WITH_HOURS = 7;

  private static final List<String> FIELDS =
      List.of(
          "files",
          "refused",
          "twins",
          "read",
          "loaded",
          "duplicate",
          "rejected",
          "filtered",
          "reversed",
          "bytes",
          "millis");

  /** The verdicts of periods that the page marks. */
  private static final Set<Expected.Verdict> SHOWN =
      EnumSet.of(Expected.Verdict.MISSING, Expected.Verdict.LATE, Expected.Verdict.TOO_MANY);

  private final Report report;
  private final List<String> feeds;
  private final LocalDate first;
  private final int days;
  private final Map<String, Integer> numbers = new HashMap<>();
  private final Map<String, long[]> loaded = new HashMap<>();
  private final int[] dayOf;

  PageFigures(Report report) {
    this.report = report;
    this.feeds = report.feeds().stream().map(feed -> feed.feed()).toList();
    this.first = report.since().atZone(report.zone()).toLocalDate();
    this.days = day(report.made().atZone(report.zone())) + 1;
    for (String feed : feeds) {
      numbers.put(feed, numbers.size());
    }
    this.dayOf = new int[report.settled().size()];
    for (int i = 0; i < dayOf.length; i++) {
      Settled settled = report.settled().get(i);
      dayOf[i] = day(settled.begins().atZone(report.zone()));
      loaded.computeIfAbsent(settled.feed(), feed -> new long[days])[dayOf[i]] += settled.loaded();
    }
  }

  /** How many days there are, the first and the last included. */
  int days() {
    return days;
  }

  /** The number of a feed in the figures. */
  int feed(String name) {
    return numbers.getOrDefault(name, -1);
  }

  /** The number of a day in the figures. */
  int day(ZonedDateTime moment) {
    return (int) ChronoUnit.DAYS.between(first, moment.toLocalDate());
  }

  /** The rows that a feed loaded on each day. */
  long[] loaded(String feed) {
    return loaded.getOrDefault(feed, new long[days]);
  }

  /** The figures as JSON for a script element. */
  String json() {
    int hourlyFrom = Math.max(0, days - DAYS_WITH_HOURS);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("first", first.toEpochDay());
    json.put("days", days);
    json.put("hourlyFrom", hourlyFrom);
    json.put("feeds", feeds);
    json.put("daily", columns(days, dayOf));
    int[] hours = new int[dayOf.length];
    for (int i = 0; i < hours.length; i++) {
      hours[i] =
          dayOf[i] < hourlyFrom
              ? -1
              : dayOf[i] * 24 + report.settled().get(i).begins().atZone(report.zone()).getHour();
    }
    json.put("hourly", columns(days * 24, hours));
    json.put("expected", expected());
    try {
      return inPage(new ObjectMapper().writeValueAsString(json));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("numbers and names are always JSON", e);
    }
  }

  /** By feed with a timetable, the first day of its periods, and those that are not whole. */
  private Map<Integer, Map<String, Object>> expected() {
    Map<Integer, Map<String, Object>> all = new LinkedHashMap<>();
    report
        .periods()
        .forEach(
            (feed, periods) -> {
              int from = periods.isEmpty() ? days : day(periods.get(0));
              List<Object[]> odd =
                  periods.stream()
                      .filter(period -> SHOWN.contains(period.verdict()))
                      .map(
                          period ->
                              new Object[] {
                                day(period),
                                period.verdict().label(),
                                period.period(),
                                period.came(),
                                period.files()
                              })
                      .toList();
              all.put(feed(feed), Map.of("from", from, "odd", odd));
            });
    return all;
  }

  private int day(Expected period) {
    return day(period.begins().atZone(report.zone()));
  }

  /** JSON without characters that end a script element or open a comment in one. */
  static String inPage(String json) {
    return json.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026");
  }

  /**
   * Columns of the slots with figures; {@code slots} has the slot of each of the settled, or -1.
   */
  private Map<String, long[]> columns(int count, int[] slots) {
    long[][] sums = new long[count * feeds.size()][];
    for (int i = 0; i < slots.length; i++) {
      int feed = numbers.getOrDefault(report.settled().get(i).feed(), -1);
      if (slots[i] >= 0 && feed >= 0) {
        int place = slots[i] * feeds.size() + feed;
        sums[place] = sums[place] == null ? new long[FIELDS.size()] : sums[place];
        add(sums[place], report.settled().get(i));
      }
    }
    int[] filled = IntStream.range(0, sums.length).filter(i -> sums[i] != null).toArray();
    Map<String, long[]> columns = new LinkedHashMap<>();
    columns.put("feed", Arrays.stream(filled).mapToLong(i -> i % feeds.size()).toArray());
    columns.put("slot", Arrays.stream(filled).mapToLong(i -> i / feeds.size()).toArray());
    for (int i = 0; i < FIELDS.size(); i++) {
      int field = i;
      columns.put(FIELDS.get(i), Arrays.stream(filled).mapToLong(f -> sums[f][field]).toArray());
    }
    return columns;
  }

  private static void add(long[] sums, Settled settled) {
    long[] values = {
      settled.files(),
      settled.refused(),
      settled.twins(),
      settled.read(),
      settled.loaded(),
      settled.duplicate(),
      settled.rejected(),
      settled.filtered(),
      settled.reversed(),
      settled.bytes(),
      settled.millis()
    };
    for (int i = 0; i < values.length; i++) {
      sums[i] += values[i];
    }
  }
}
