package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/**
 * Makes the cells of delimited records safe for spreadsheets, which take a text that begins with
 * one of {@code = + - @}, blanks before it or not, a tab or a carriage return as a formula: an
 * apostrophe is put before it, one more before existing apostrophes, so that taking one away gives
 * back the text. Plain numbers stay as they are.
 */
final class FormulaGuard {

  private FormulaGuard() {}

  /** The record's bytes as UTF-8 with its cells made safe. */
  static byte[] protect(RecordBatch batch, int record, DelimitedLayout layout) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    int at = batch.rawStart(record);
    for (int[] cell : cells(batch, record, layout)) {
      String text = text(batch, cell);
      if (isFormula(text.replaceFirst("^'+", ""))) {
        out.write(batch.bytes(), at, cell[0] - at);
        out.write('\'');
        at = cell[0];
      }
    }
    out.write(batch.bytes(), at, batch.rawEnd(record) - at);
    return out.toByteArray();
  }

  /** The record's bytes as UTF-8 with what {@link #protect} did taken back. */
  static byte[] restore(RecordBatch batch, int record, DelimitedLayout layout) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    int at = batch.rawStart(record);
    for (int[] cell : cells(batch, record, layout)) {
      String text = text(batch, cell);
      if (text.startsWith("'") && isFormula(text.replaceFirst("^'+", ""))) {
        out.write(batch.bytes(), at, cell[0] - at);
        at = cell[0] + 1;
      }
    }
    out.write(batch.bytes(), at, batch.rawEnd(record) - at);
    return out.toByteArray();
  }

  private static String text(RecordBatch batch, int[] cell) {
    return new String(batch.bytes(), cell[0], cell[1] - cell[0], StandardCharsets.UTF_8);
  }

  private static boolean isFormula(String text) {
    String told = text.stripLeading(); // some spreadsheets pass blanks over
    return !text.isEmpty()
        && ("\t\r".indexOf(text.charAt(0)) >= 0
            || !told.isEmpty() && "=+-@".indexOf(told.charAt(0)) >= 0)
        && !told.matches("[-+]?\\d[\\d.,' ]*([eE][-+]?\\d+)?");
  }

  /** Start and end of each cell; of a record without fields, by its delimiters. */
  private static List<int[]> cells(RecordBatch batch, int record, DelimitedLayout layout) {
    List<int[]> cells = new ArrayList<>();
    if (batch.fault(record) == null) {
      for (int f = 0; f < batch.fieldCount(record); f++) {
        int field = batch.firstField(record) + f;
        cells.add(new int[] {batch.fieldStart(field), batch.fieldEnd(field)});
      }
      return cells;
    }
    byte[] delimiter = layout.delimiter().getBytes(StandardCharsets.UTF_8);
    int start = batch.rawStart(record);
    int end = batch.rawEnd(record);
    int from = start;
    for (int i = start; i <= end; i++) {
      boolean here =
          i == end
              || i + delimiter.length <= end
                  && java.util.Arrays.equals(
                      batch.bytes(), i, i + delimiter.length, delimiter, 0, delimiter.length);
      if (here) {
        boolean quoted = from < i && batch.bytes()[from] == layout.quote();
        cells.add(new int[] {quoted ? from + 1 : from, i});
        i += delimiter.length - 1;
        from = i + 1;
      }
    }
    return cells;
  }
}
