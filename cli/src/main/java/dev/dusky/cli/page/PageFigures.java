package dev.dusky.cli.page;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.report.Report;
import dev.dusky.core.report.Settled;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.ToIntFunction;

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

  private final Report report;
  private final List<String> feeds;
  private final LocalDate first;
  private final int days;

  PageFigures(Report report) {
    this.report = report;
    this.feeds = report.feeds().stream().map(feed -> feed.feed()).toList();
    this.first = report.since().atZone(report.zone()).toLocalDate();
    this.days = day(report.made().atZone(report.zone())) + 1;
  }

  /** How many days there are, the first and the last included. */
  int days() {
    return days;
  }

  /** The number of a feed in the figures. */
  int feed(String name) {
    return feeds.indexOf(name);
  }

  /** The number of a day in the figures. */
  int day(ZonedDateTime moment) {
    return (int) ChronoUnit.DAYS.between(first, moment.toLocalDate());
  }

  /** The rows that a feed loaded on each day. */
  long[] loaded(String feed) {
    long[] loaded = new long[days];
    for (Settled settled : report.settled()) {
      if (settled.feed().equals(feed)) {
        loaded[day(settled.begins().atZone(report.zone()))] += settled.loaded();
      }
    }
    return loaded;
  }

  /** The figures as JSON for a script element. */
  String json() {
    int hourlyFrom = Math.max(0, days - DAYS_WITH_HOURS);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("first", first.toEpochDay());
    json.put("days", days);
    json.put("hourlyFrom", hourlyFrom);
    json.put("feeds", feeds);
    json.put("daily", columns(0, this::day));
    json.put("hourly", columns(hourlyFrom, moment -> day(moment) * 24 + moment.getHour()));
    try {
      return inPage(new ObjectMapper().writeValueAsString(json));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("numbers and names are always JSON", e);
    }
  }

  /** JSON without characters that end a script element or open a comment in one. */
  static String inPage(String json) {
    return json.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026");
  }

  private Map<String, long[]> columns(int fromDay, ToIntFunction<ZonedDateTime> slot) {
    TreeMap<Long, long[]> sums = new TreeMap<>();
    for (Settled settled : report.settled()) {
      ZonedDateTime moment = settled.begins().atZone(report.zone());
      int feed = feed(settled.feed());
      if (feed >= 0 && day(moment) >= fromDay) {
        long key = (long) slot.applyAsInt(moment) * feeds.size() + feed;
        add(sums.computeIfAbsent(key, k -> new long[FIELDS.size()]), settled);
      }
    }
    Map<String, long[]> columns = new LinkedHashMap<>();
    columns.put("feed", sums.keySet().stream().mapToLong(key -> key % feeds.size()).toArray());
    columns.put("slot", sums.keySet().stream().mapToLong(key -> key / feeds.size()).toArray());
    for (int i = 0; i < FIELDS.size(); i++) {
      int field = i;
      columns.put(FIELDS.get(i), sums.values().stream().mapToLong(row -> row[field]).toArray());
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
