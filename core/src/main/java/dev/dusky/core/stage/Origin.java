package dev.dusky.core.stage;

import java.io.IOException;
import java.nio.file.Path;

/** Where a file comes from that is not on this machine until it is staged. */
public interface Origin {

  /** The place in words, without secrets. */
  String place();

  /**
   * Copies the file here, whole or not at all.
   *
   * @param to a local file, which is overwritten
   */
  void fetch(Path to) throws IOException;
}
