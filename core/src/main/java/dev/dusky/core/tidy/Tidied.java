package dev.dusky.core.tidy;

/**
 * What was done for a table, or would be.
 *
 * @param table its name; empty for files that belong to no table
 * @param states how many former states it forgets
 * @param small how many small data files were rewritten
 * @param into into how many
 * @param leftovers how many files were removed that no table needs
 * @param bytes their size
 * @param failure why it could not be tidied; empty if it could
 */
public record Tidied(
    String table, long states, long small, long into, long leftovers, long bytes, String failure) {

  /** A table that could not be tidied. */
  public static Tidied failed(String table, String why) {
    return new Tidied(table, 0, 0, 0, 0, 0, why);
  }

  /** Whether there was nothing to do. */
  public boolean idle() {
    return states + small + leftovers == 0 && failure.isEmpty();
  }
}
