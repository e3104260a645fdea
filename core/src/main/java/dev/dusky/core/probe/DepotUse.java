package dev.dusky.core.probe;

import dev.dusky.core.feed.FilePattern;
import java.util.List;

/**
 * What a configuration does with a depot, from which the rights follow that it needs.
 *
 * @param feeds the files that are listed and read
 * @param folders the folders that files are written to
 * @param archives the feeds whose files are moved
 * @param removals the feeds whose files are removed
 */
public record DepotUse(
    List<Reading> feeds, List<Writing> folders, List<Moving> archives, List<Removing> removals) {

  /** Nothing is known about it. */
  public static final DepotUse UNKNOWN = new DepotUse(List.of(), List.of(), List.of(), List.of());

  /** A feed's files. */
  public record Reading(String feed, FilePattern files) {}

  /**
   * A folder that is written to.
   *
   * @param purpose what for, in two or three words
   * @param folder empty, or ending in a slash
   */
  public record Writing(String purpose, String folder) {}

  /**
   * Files that are moved once they are posted.
   *
   * @param from the literal folder that they are below
   * @param to the folder that they go to, with their paths
   */
  public record Moving(String feed, String from, String to) {}

  /**
   * Files that are removed once they are posted.
   *
   * @param from the literal folder that they are below
   */
  public record Removing(String feed, String from) {}

  /** Whether files are written, moved or removed. */
  public boolean changes() {
    return !folders.isEmpty() || !archives.isEmpty() || !removals.isEmpty();
  }

  /** Whether nothing in the configuration uses the depot. */
  public boolean unknown() {
    return feeds.isEmpty() && !changes();
  }
}
