package dev.dusky.core.depot;

import java.time.Instant;

/**
 * A file in a depot.
 *
 * @param path its path below the depot's root, with slashes
 * @param size its stored size in bytes
 * @param mark what changes with its content: the etag, or the modification time
 * @param modified when it was last written
 */
public record StagedFile(String path, long size, String mark, Instant modified) {

  /** The version that, with feed and path, identifies the file in the ledger. */
  public String version() {
    return size + ":" + mark;
  }
}
