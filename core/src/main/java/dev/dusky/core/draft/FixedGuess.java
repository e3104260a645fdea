package dev.dusky.core.draft;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.table.SqlNames;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Finds columns of fixed width: places where every line of a sample has a blank. */
final class FixedGuess {

  private final List<String> lines;
  private final Encoding encoding;
  private final List<Evidence> evidence = new ArrayList<>();

  FixedGuess(String text, Encoding encoding) {
    this.lines = text.lines().filter(line -> !line.isBlank()).limit(2_000).toList();
    this.encoding = encoding;
  }

  List<Evidence> evidence() {
    return evidence;
  }

  Optional<FixedLayout> guess() {
    if (lines.size() < 3) {
      return Optional.empty();
    }
    int width = lines.stream().mapToInt(String::length).max().orElse(0);
    long full = lines.stream().filter(line -> line.length() >= width - 20).count();
    if (width < 3 || width > 10_000 || full < lines.size() * 0.9) {
      return Optional.empty();
    }
    boolean header = Headers.isHeader(cells(gutters(lines, width), lines));
    List<String> data = header ? lines.subList(1, lines.size()) : lines;
    boolean[] blank = gutters(header ? lines : data, width);
    List<int[]> columns = columns(blank, width);
    if (columns.size() < 2) {
      return Optional.empty();
    }
    List<FixedField> fields = new ArrayList<>();
    List<String> names = new ArrayList<>();
    for (int[] column : columns) {
      names.add(header ? cut(lines.get(0), column[0], column[1]).strip() : "");
    }
    List<String> sqlNames = SqlNames.of(names);
    for (int i = 0; i < columns.size(); i++) {
      int from = i == 0 ? 0 : columns.get(i)[0];
      int to = i + 1 < columns.size() ? columns.get(i + 1)[0] : width;
      boolean right = isRight(data, columns.get(i)[0], columns.get(i)[1]);
      // A number's room is before it, a text's behind it.
      int start = right ? (i == 0 ? 0 : columns.get(i - 1)[1]) : from;
      int end = right ? columns.get(i)[1] : nextStart(data, columns, i, to);
      fields.add(
          new FixedField(
              sqlNames.get(i),
              start + 1,
              end - start,
              right ? FixedField.Alignment.RIGHT : FixedField.Alignment.LEFT,
              ' ',
              ""));
    }
    evidence.add(
        new Evidence(
            "fields",
            fields.size() + " columns",
            "between them all of %,d lines have blanks".formatted(lines.size()),
            false));
    evidence.add(
        new Evidence(
            "header",
            header ? "yes" : "no",
            header
                ? "the first line reads like names; it is skipped"
                : "the first line reads like the others; the fields need names",
            !header));
    return Optional.of(
        new FixedLayout(
            "draft",
            fields,
            0,
            Optional.empty(),
            header ? 1 : 0,
            ShortRecords.FILL,
            encoding,
            List.of(""),
            DelimitedLayout.DEFAULT_RECORD_LIMIT));
  }

  /** Where a text's room ends: before the room of a number on its right. */
  private static int nextStart(List<String> data, List<int[]> columns, int i, int to) {
    boolean last = i + 1 == columns.size();
    return !last && isRight(data, columns.get(i + 1)[0], columns.get(i + 1)[1])
        ? columns.get(i)[1]
        : to;
  }

  private static boolean[] gutters(List<String> lines, int width) {
    boolean[] blank = new boolean[width];
    java.util.Arrays.fill(blank, true);
    for (String line : lines) {
      for (int i = 0; i < line.length(); i++) {
        blank[i] &= line.charAt(i) == ' ';
      }
    }
    return blank;
  }

  /** Runs between gutters; a single blank inside a header's name of two words may split one. */
  private static List<int[]> columns(boolean[] blank, int width) {
    List<int[]> columns = new ArrayList<>();
    int start = -1;
    for (int i = 0; i <= width; i++) {
      boolean inside = i < width && !blank[i];
      if (inside && start < 0) {
        start = i;
      } else if (!inside && start >= 0) {
        columns.add(new int[] {start, i});
        start = -1;
      }
    }
    return columns;
  }

  private static List<List<String>> cells(boolean[] blank, List<String> lines) {
    List<int[]> columns = columns(blank, blank.length);
    List<List<String>> rows = new ArrayList<>();
    for (String line : lines.subList(0, Math.min(lines.size(), 500))) {
      List<String> row = new ArrayList<>();
      for (int[] column : columns) {
        String cell = cut(line, column[0], column[1]).strip();
        row.add(cell.isEmpty() ? null : cell);
      }
      rows.add(row);
    }
    return rows;
  }

  private static String cut(String line, int from, int to) {
    return from >= line.length() ? "" : line.substring(from, Math.min(to, line.length()));
  }

  /** Whether values of different lengths end at the same place. */
  private static boolean isRight(List<String> data, int from, int to) {
    int right = 0;
    int left = 0;
    for (String line : data) {
      String cell = cut(line, from, to);
      if (!cell.isBlank()) {
        right += cell.length() == to - from && !cell.endsWith(" ") ? 1 : 0;
        left += cell.startsWith(" ") ? 0 : 1;
      }
    }
    return right > left
        || right == left && data.stream().allMatch(l -> cut(l, from, to).matches("[-+ ]*[\\d.,]*"));
  }
}
