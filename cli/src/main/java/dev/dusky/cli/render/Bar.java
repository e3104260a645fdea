package dev.dusky.cli.render;

/** A horizontal bar that shows a share. */
public final class Bar {

  private Bar() {}

  /**
   * A bar.
   *
   * @param share what is done, between 0 and 1
   * @param width its length in characters
   */
  public static String of(double share, int width) {
    int filled = (int) Math.round(Math.max(0, Math.min(1, share)) * width);
    return "\u2501".repeat(filled) + "\u2500".repeat(width - filled);
  }
}
