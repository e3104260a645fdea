package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.sql.FilledFeed;
import dev.dusky.core.warehouse.ResultTaker;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Prints the result of a statement: a table for people, an object a row for machines. */
public final class ResultReport implements ResultTaker {

  private static final int MOST_ROWS = 1_000;

  private final Screen screen;
  private List<String> names = List.of();
  private TableText table;
  private long rows;

  /** A report on that screen. */
  public ResultReport(Screen screen) {
    this.screen = screen;
  }

  /** Shows how a feed's table was filled; for machines on the stream for remarks. */
  public void filled(FilledFeed filled) {
    tell(
        "%s  %s: %s%s"
            .formatted(
                filled.feed(),
                Figures.plural(filled.files(), "file"),
                TallyFigures.sum(filled.tally()),
                filled.cut() ? "; there may be more, see --rows" : ""));
    filled.refused().forEach(why -> tell("  not read: " + why));
  }

  private void tell(String text) {
    if (screen.json()) {
      screen.remark(text);
    } else {
      screen.line(screen.style().faint(text));
    }
  }

  @Override
  public void columns(List<String> columnNames, List<Boolean> numeric) {
    names = columnNames;
    List<String> heads = new ArrayList<>();
    for (int i = 0; i < columnNames.size(); i++) {
      heads.add((numeric.get(i) ? ">" : "<") + columnNames.get(i));
    }
    table = new TableText(screen.style(), heads.toArray(String[]::new));
  }

  @Override
  public void row(List<Object> values) {
    rows++;
    if (screen.json()) {
      Map<String, Object> fields = new LinkedHashMap<>();
      for (int i = 0; i < values.size(); i++) {
        fields.put(names.get(i), values.get(i));
      }
      screen.object(fields);
    } else if (rows <= MOST_ROWS) {
      table.row(values.stream().map(v -> v == null ? "" : v.toString()).toArray(String[]::new));
    }
  }

  @Override
  public void changed(long count) {
    screen.line(Figures.count(count) + (count == 1 ? " row changed" : " rows changed"));
    screen.object(Map.of("changed", count));
  }

  /** Ends the report. */
  public void end() {
    if (table == null) {
      return;
    }
    screen.table(table);
    screen.line(
        screen
            .style()
            .faint(
                Figures.count(rows)
                    + (rows == 1 ? " row" : " rows")
                    + (rows > MOST_ROWS ? ", the first 1 000 shown" : "")));
  }
}
