package dev.dusky.cli.render;

import dev.dusky.app.config.Prices;
import dev.dusky.app.figures.Figures;
import dev.dusky.app.journal.UsageSums.Sum;
import dev.dusky.core.usage.Request;
import java.math.BigDecimal;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Shows what loads and merges used, and what that cost. */
public final class UsageReport {

  private final Screen screen;

  /** A report on that screen. */
  public UsageReport(Screen screen) {
    this.screen = screen;
  }

  /**
   * Shows the sums, a line each.
   *
   * @param currency of the costs, if prices are configured
   */
  public void show(List<Sum> sums, Optional<String> currency) {
    TableText table =
        new TableText(
            screen.style(),
            "=period",
            "=name",
            ">runs",
            ">files",
            ">rows",
            ">time",
            ">processor",
            ">database",
            ">in",
            ">out",
            ">list",
            ">get",
            ">put",
            ">copy",
            ">delete",
            ">" + currency.orElse("cost"),
            ">per million rows");
    for (Sum sum : sums) {
      screen.object(json(sum, currency));
      table.row(
          sum.period().isEmpty() ? "all" : sum.period(),
          sum.name() + (sum.merge() ? " (merge)" : ""),
          Figures.count(sum.runs()),
          Figures.count(sum.files()),
          Figures.count(sum.rows()),
          time(sum.usage().wallMillis()),
          time(sum.usage().processorMillis()),
          time(sum.usage().databaseMillis()),
          Figures.bytes(sum.usage().bytesIn()),
          Figures.bytes(sum.usage().bytesOut()),
          requests(sum, Request.LIST),
          requests(sum, Request.GET),
          requests(sum, Request.PUT),
          requests(sum, Request.COPY),
          requests(sum, Request.DELETE),
          sum.cost().map(Prices::shown).orElse("-"),
          sum.perMillion().map(Prices::shown).orElse("-"));
    }
    if (sums.isEmpty()) {
      screen.line("No load or merge of this period has its usage recorded.");
    } else {
      screen.table(table);
    }
  }

  private static String requests(Sum sum, Request kind) {
    return Figures.count(sum.usage().requests().get(kind));
  }

  private static String time(long millis) {
    return Figures.duration(Duration.ofMillis(millis));
  }

  private static Map<String, Object> json(Sum sum, Optional<String> currency) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("period", sum.period().isEmpty() ? null : sum.period());
    fields.put(sum.merge() ? "merge" : "feed", sum.name());
    fields.put("runs", sum.runs());
    fields.put("files", sum.files());
    fields.put("rows", sum.rows());
    fields.put("wall_ms", sum.usage().wallMillis());
    fields.put("processor_ms", sum.usage().processorMillis());
    fields.put("database_ms", sum.usage().databaseMillis());
    fields.put("bytes_in", sum.usage().bytesIn());
    fields.put("bytes_out", sum.usage().bytesOut());
    for (Request kind : Request.values()) {
      fields.put(kind.label() + "_requests", sum.usage().requests().get(kind));
    }
    fields.put("currency", currency.orElse(null));
    fields.put("cost", sum.cost().map(BigDecimal::toPlainString).orElse(null));
    fields.put(
        "cost_per_million_rows", sum.perMillion().map(BigDecimal::toPlainString).orElse(null));
    return fields;
  }
}
