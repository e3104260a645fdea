package dev.dusky.core.ledger;

import java.util.List;

/**
 * The files of a feed that wait for a person: refused, or changed after they were posted.
 *
 * @param count how many there are
 * @param paths some of them, the newest first
 * @param print a text that differs when they are others
 */
public record HeldFiles(long count, List<String> paths, String print) {

  public HeldFiles {
    paths = List.copyOf(paths);
  }
}
