package dev.dusky.lake.file;

import java.time.Instant;
import java.util.function.Consumer;

/** All that is stored where tables are. */
public interface StoredFiles {

  /**
   * A file.
   *
   * @param location where it is
   * @param size its bytes
   * @param modified when it was written, by the store's clock
   */
  record Stored(String location, long size, Instant modified) {}

  /** Hands every file below a location over. */
  void each(String below, Consumer<Stored> file);

  /** A location in the one form in which {@link #each} gives it. */
  String plain(String location);

  /**
   * The time by the store's clock, which may differ from this machine's.
   *
   * @param below where a file may be written for a moment
   */
  Instant now(String below);
}
