package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.TableText;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Records as a table; as one block a record when the terminal is too narrow for the columns. */
final class PeekTable {

  private static final int LEAST_WIDTH = 10;

  private PeekTable() {}

  static void print(
      Screen screen, List<String> columns, List<String> types, List<List<String>> rows) {
    if (columns.size() * LEAST_WIDTH > screen.terminal().width()) {
      blocks(screen, columns, types, rows);
      return;
    }
    String[] heads = new String[columns.size()];
    for (int c = 0; c < heads.length; c++) {
      boolean number = types.get(c).matches("(smallint|integer|bigint|decimal|real|double).*");
      heads[c] = (number ? ">" : "<") + TableText.visible(columns.get(c));
    }
    TableText table = new TableText(screen.style(), heads);
    table.subheader(types.toArray(String[]::new));
    for (List<String> row : rows) {
      List<String> cells = new ArrayList<>(row.subList(0, Math.min(row.size(), columns.size())));
      cells.addAll(Collections.nCopies(columns.size() - cells.size(), ""));
      table.row(cells.toArray(String[]::new));
    }
    screen.table(table);
  }

  private static void blocks(
      Screen screen, List<String> columns, List<String> types, List<List<String>> rows) {
    for (int r = 0; r < rows.size(); r++) {
      screen.line(screen.style().faint("record " + (r + 1)));
      TableText table = new TableText(screen.style(), "column", "type", "value");
      for (int c = 0; c < Math.min(columns.size(), rows.get(r).size()); c++) {
        table.row(columns.get(c), types.get(c), rows.get(r).get(c));
      }
      screen.table(table);
    }
  }
}
