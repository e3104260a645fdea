package dev.dusky.core.ledger;

import java.util.Optional;

/**
 * A posted file that is still to be moved or removed.
 *
 * @param fileId its number
 * @param path its path
 * @param version its size and mark when it was posted
 * @param target where it goes; nothing if it is removed
 */
public record DueFile(long fileId, String path, String version, Optional<String> target) {

  /** The same file, moved to another path. */
  public DueFile withTarget(String other) {
    return new DueFile(fileId, path, version, Optional.of(other));
  }
}
