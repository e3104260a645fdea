package dev.dusky.cli.render;

import dev.dusky.core.text.SafeText;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.UnaryOperator;

/**
 * A table of text in aligned columns: numbers to the right, the last column takes what is left of
 * the width, and what does not fit is cut with an ellipsis.
 */
public final class TableText {

  private static final String GAP = "  ";
  private static final int LEAST = 8;

  private final List<String> names;
  private final boolean[] right;
  private final boolean[] fixed;
  private final List<UnaryOperator<String>> paint = new ArrayList<>();
  private final List<List<String>> rows = new ArrayList<>();
  private final Style style;
  private List<String> subheader = List.of();

  /**
   * A table with these column names; a name that begins with {@code >} is aligned to the right, one
   * that begins with {@code =} is never cut; {@code <} marks a name that may begin with anything.
   */
  public TableText(Style style, String... columns) {
    this.style = style;
    this.right = new boolean[columns.length];
    this.fixed = new boolean[columns.length];
    List<String> clean = new ArrayList<>();
    for (int i = 0; i < columns.length; i++) {
      right[i] = columns[i].startsWith(">");
      fixed[i] = right[i] || columns[i].startsWith("=");
      boolean marked = fixed[i] || columns[i].startsWith("<");
      clean.add(marked ? columns[i].substring(1) : columns[i]);
      paint.add(UnaryOperator.identity());
    }
    this.names = clean;
  }

  /** Paints the cells of a column. */
  public TableText painted(int column, UnaryOperator<String> painter) {
    paint.set(column, painter);
    return this;
  }

  /** Adds a second line to the header. */
  public TableText subheader(String... cells) {
    subheader = Arrays.asList(cells);
    return this;
  }

  /** Adds a row. */
  public TableText row(String... cells) {
    rows.add(Arrays.asList(cells));
    return this;
  }

  /** Whether it has no rows. */
  public boolean isEmpty() {
    return rows.isEmpty();
  }

  /** The lines of the table, its header first, none longer than the width where that can be. */
  public List<String> lines(int width) {
    int[] widths = widths(width);
    List<String> lines = new ArrayList<>();
    lines.add(style.faint(line(names, widths, false)));
    if (!subheader.isEmpty()) {
      lines.add(style.faint(line(subheader, widths, false)));
    }
    for (List<String> row : rows) {
      lines.add(line(row, widths, true));
    }
    return lines;
  }

  private int[] widths(int width) {
    int[] widths = new int[names.size()];
    for (int i = 0; i < widths.length; i++) {
      widths[i] = length(names.get(i));
      widths[i] = subheader.isEmpty() ? widths[i] : Math.max(widths[i], length(subheader.get(i)));
      for (List<String> row : rows) {
        widths[i] = Math.max(widths[i], length(visible(row.get(i))));
      }
    }
    int total = Arrays.stream(widths).sum() + GAP.length() * (widths.length - 1);
    while (total > width) {
      int widest = 0;
      for (int i = 1; i < widths.length; i++) {
        if (!fixed[i] && (fixed[widest] || widths[i] > widths[widest])) {
          widest = i;
        }
      }
      if (fixed[widest] || widths[widest] <= LEAST) {
        break;
      }
      widths[widest]--;
      total--;
    }
    return widths;
  }

  private String line(List<String> cells, int[] widths, boolean painted) {
    StringBuilder line = new StringBuilder();
    for (int i = 0; i < widths.length; i++) {
      String cell = clip(visible(cells.get(i)), widths[i]);
      String pad = " ".repeat(Math.max(0, widths[i] - length(cell)));
      String shown = painted ? paint.get(i).apply(cell) : cell;
      boolean last = i == widths.length - 1;
      line.append(right[i] ? pad + shown : last ? shown : shown + pad);
      if (!last) {
        line.append(GAP);
      }
    }
    return line.toString().stripTrailing();
  }

  private static int length(String text) {
    return text.codePointCount(0, text.length());
  }

  private static String clip(String text, int width) {
    return length(text) <= width
        ? text
        : text.substring(0, text.offsetByCodePoints(0, Math.max(0, width - 1))) + "\u2026";
  }

  /** Text with line ends and other invisible characters made visible, for one line of a screen. */
  public static String visible(String text) {
    return SafeText.line(text);
  }
}
