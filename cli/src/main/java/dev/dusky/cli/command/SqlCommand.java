package dev.dusky.cli.command;

import dev.dusky.cli.render.Figures;
import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.TableText;
import dev.dusky.cli.workspace.Workspace;
import dev.dusky.warehouses.connection.StatementRun;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Runs one statement. */
@Command(
    name = "sql",
    description = "Runs one SQL statement on the warehouse and prints the result.",
    footer = {
      "",
      "Examples:",
      "  dusky sql \"select feed, state, count(*) from dusky.file group by feed, state\"",
      "  dusky sql --json \"select * from dusky.load_total\"",
      "",
      "For people at most 1 000 rows are printed; with --json all are, as they come."
    })
final class SqlCommand extends DuskyCommand {

  private static final int MOST_ROWS = 1_000;

  @Parameters(paramLabel = "STATEMENT", description = "The statement.")
  String statement;

  @Override
  int run(Screen screen) {
    try (Workspace workspace = new Workspace(configFile())) {
      Printer printer = new Printer(screen);
      StatementRun.run(workspace.bareWarehouse(), statement, printer);
      printer.end();
    }
    return 0;
  }

  private static final class Printer implements StatementRun.Taker {
    private final Screen screen;
    private List<String> names = List.of();
    private TableText table;
    private long rows;

    Printer(Screen screen) {
      this.screen = screen;
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

    void end() {
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
}
