package dev.dusky.cli.page;

import dev.dusky.app.config.Prices;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.report.Report;
import dev.dusky.core.usage.Usage;
import dev.dusky.core.usage.UsageLine;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What was used by feed and merge, and by day, as rows of the page; the days are folded away. */
final class PageUsage {

  private final Report report;
  private final PageFigures figures;

  PageUsage(Report report, PageFigures figures) {
    this.report = report;
    this.figures = figures;
  }

  /** A row for each feed and merge, those that used most processor time first. */
  List<Map<String, Object>> rows() {
    Map<String, List<UsageLine>> byName = new LinkedHashMap<>();
    for (UsageLine line : report.usage()) {
      String name = line.name() + (line.merge() ? " (merge)" : "");
      byName.computeIfAbsent(name, n -> new ArrayList<>()).add(line);
    }
    List<Map<String, Object>> rows = new ArrayList<>();
    byName.forEach((name, lines) -> rows.add(row(name, lines)));
    rows.sort((a, b) -> Long.compare((long) b.get("processorMs"), (long) a.get("processorMs")));
    return rows;
  }

  private Map<String, Object> row(String name, List<UsageLine> lines) {
    Usage all = lines.stream().map(UsageLine::usage).reduce(Usage.NONE, Usage::plus);
    long done = lines.stream().mapToLong(UsageLine::rows).sum();
    Map<String, Object> row = new LinkedHashMap<>();
    UsageLine any = lines.get(0);
    row.put("number", any.merge() ? "" : figures.feed(any.name()));
    row.put("name", name);
    row.put("runs", Figures.count(lines.stream().mapToLong(UsageLine::runs).sum()));
    row.put("rows", Figures.count(done));
    row.put("time", seconds(all.wallMillis()));
    row.put("processor", seconds(all.processorMillis()));
    row.put("processorMs", all.processorMillis());
    row.put("database", seconds(all.databaseMillis()));
    row.put("in", all.bytesIn());
    row.put("inText", Figures.bytes(all.bytesIn()));
    row.put("out", all.bytesOut());
    row.put("outText", Figures.bytes(all.bytesOut()));
    row.put("requests", Figures.count(all.requests().values().stream().mapToLong(n -> n).sum()));
    row.put("cost", report.prices().map(p -> Prices.shown(p.of(all))).orElse("-"));
    row.put(
        "perMillion",
        report.prices().flatMap(p -> p.perMillion(all, done)).map(Prices::shown).orElse("-"));
    row.put("days", lines.stream().map(this::day).toList());
    return row;
  }

  private Map<String, Object> day(UsageLine line) {
    Map<String, Object> day = new LinkedHashMap<>();
    day.put("day", line.day().toString());
    day.put("dayRows", Figures.count(line.rows()));
    day.put("dayTime", seconds(line.usage().wallMillis()));
    day.put("dayProcessor", seconds(line.usage().processorMillis()));
    day.put("dayIn", Figures.bytes(line.usage().bytesIn()));
    day.put("dayCost", report.prices().map(p -> Prices.shown(p.of(line.usage()))).orElse("-"));
    return day;
  }

  private static String seconds(long millis) {
    return String.format(Locale.ROOT, "%.1f", millis / 1000.0);
  }
}
