package dev.dusky.cli.render;

/**
 * The properties of the terminal.
 *
 * @param out whether standard output is one
 * @param err whether standard error is one
 * @param width its width in characters
 */
public record Terminal(boolean out, boolean err, int width) {

  private static final int DEFAULT_WIDTH = 120;

  /** Where no terminal cuts lines, nothing is cut. */
  private static final int UNBOUNDED = 100_000;

  /** As the launcher says, or as far as Java can determine. */
  public static Terminal detect() {
    String told = System.getenv("DUSKY_TERMINAL");
    boolean console = System.console() != null;
    boolean out = told == null ? console : told.contains("out");
    boolean err = told == null ? console : told.contains("err");
    if (!out) {
      return new Terminal(false, err, UNBOUNDED);
    }
    String columns = System.getenv("COLUMNS");
    boolean usable = columns != null && columns.matches("\\d{2,4}");
    return new Terminal(out, err, usable ? Integer.parseInt(columns) : DEFAULT_WIDTH);
  }
}
