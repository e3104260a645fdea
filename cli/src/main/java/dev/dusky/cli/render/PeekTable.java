package dev.dusky.cli.render;

import java.util.ArrayList;
import java.util.List;

/**
 * Records as a table with types. What is too wide for the terminal is folded: the columns continue
 * in a second table below, the records' numbers repeated; a few wide records become a block each.
 */
final class PeekTable {

  private static final int CELL = 36;
  private static final int GAP = 2;

  private final Screen screen;

  PeekTable(Screen screen) {
    this.screen = screen;
  }

  void print(
      List<String> columns, List<String> types, List<String> numbers, List<List<String>> rows) {
    if (screen.json()) {
      return;
    }
    int width = screen.terminal().width();
    List<List<Integer>> folds = folds(columns, types, numbers, rows, width);
    if (folds.size() > 4 && rows.size() <= folds.size()) {
      blocks(columns, types, numbers, rows);
      return;
    }
    for (int f = 0; f < folds.size(); f++) {
      if (f > 0) {
        screen.line("");
      }
      table(folds.get(f), columns, types, numbers, rows);
    }
  }

  private static int width(String text) {
    return text == null ? 0 : text.codePointCount(0, text.length());
  }

  /** Which columns share a row of the table. */
  private static List<List<Integer>> folds(
      List<String> columns,
      List<String> types,
      List<String> numbers,
      List<List<String>> rows,
      int width) {
    int number = Math.max(1, numbers.stream().mapToInt(String::length).max().orElse(1));
    List<List<Integer>> folds = new ArrayList<>();
    List<Integer> fold = new ArrayList<>();
    int used = number;
    for (int c = 0; c < columns.size(); c++) {
      int widest = Math.max(width(columns.get(c)), width(types.get(c)));
      for (List<String> row : rows) {
        widest = Math.max(widest, Math.min(CELL, width(row.get(c))));
      }
      if (!fold.isEmpty() && used + GAP + widest > width) {
        folds.add(fold);
        fold = new ArrayList<>();
        used = number;
      }
      fold.add(c);
      used += GAP + widest;
    }
    folds.add(fold);
    return folds;
  }

  private static boolean isNumber(String type) {
    return type != null && type.matches("(smallint|integer|bigint|decimal|real|double).*");
  }

  private void table(
      List<Integer> fold,
      List<String> columns,
      List<String> types,
      List<String> numbers,
      List<List<String>> rows) {
    List<String> heads = new ArrayList<>(List.of(">#"));
    List<String> under = new ArrayList<>(List.of(""));
    for (int c : fold) {
      heads.add((isNumber(types.get(c)) ? ">" : "<") + TableText.visible(columns.get(c)));
      under.add(types.get(c) == null ? "" : types.get(c));
    }
    TableText table = new TableText(screen.style(), heads.toArray(String[]::new));
    table.subheader(under.toArray(String[]::new));
    table.painted(0, screen.style()::faint);
    for (int r = 0; r < rows.size(); r++) {
      List<String> cells = new ArrayList<>(List.of(numbers.get(r)));
      for (int c : fold) {
        String value = rows.get(r).get(c);
        cells.add(value == null ? "\u2205" : value);
      }
      table.row(cells.toArray(String[]::new));
    }
    screen.table(table);
  }

  private void blocks(
      List<String> columns, List<String> types, List<String> numbers, List<List<String>> rows) {
    for (int r = 0; r < rows.size(); r++) {
      screen.line(screen.style().faint("record " + numbers.get(r)));
      TableText table = new TableText(screen.style(), "=column", "=type", "value");
      for (int c = 0; c < columns.size(); c++) {
        String value = rows.get(r).get(c);
        table.row(columns.get(c), types.get(c), value == null ? "\u2205" : value);
      }
      screen.table(table);
    }
  }
}
