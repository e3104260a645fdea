package dev.dusky.formats;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A range of cells such as {@code B3:F200}, {@code B3:F} (as far as there are rows) or {@code B3}
 * (as far as there are cells). Columns count from 0, rows from 1.
 */
record CellRange(int firstColumn, int firstRow, int lastColumn, int lastRow) {

  private static final Pattern FORM =
      Pattern.compile("([A-Za-z]{1,3})([1-9]\\d{0,6})?(?::([A-Za-z]{1,3})?([1-9]\\d{0,6})?)?");

  static final CellRange ALL = new CellRange(0, 1, 16_383, 1_048_576);

  static Optional<CellRange> of(String text) {
    if (text.isEmpty()) {
      return Optional.of(ALL);
    }
    Matcher form = FORM.matcher(text.strip());
    if (!form.matches()) {
      return Optional.empty();
    }
    return Optional.of(
        new CellRange(
            column(form.group(1)),
            form.group(2) == null ? 1 : Integer.parseInt(form.group(2)),
            form.group(3) == null ? ALL.lastColumn() : column(form.group(3)),
            form.group(4) == null ? ALL.lastRow() : Integer.parseInt(form.group(4))));
  }

  private static int column(String letters) {
    int column = 0;
    for (char c : letters.toUpperCase(java.util.Locale.ROOT).toCharArray()) {
      column = column * 26 + c - 'A' + 1;
    }
    return column - 1;
  }
}
