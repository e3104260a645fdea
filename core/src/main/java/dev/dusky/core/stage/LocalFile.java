package dev.dusky.core.stage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;

/**
 * A file to be staged.
 *
 * @param file where it is
 * @param path the path that it gets in the depot
 * @param size its size in bytes
 * @param modified when it was written last
 * @param origin where it is fetched from before, if it is not here
 */
public record LocalFile(
    Path file, String path, long size, Instant modified, Optional<Origin> origin) {

  /** A local file as it is now. */
  public static LocalFile of(Path file, String path) throws IOException {
    return new LocalFile(
        file,
        path,
        Files.size(file),
        Files.getLastModifiedTime(file).toInstant(),
        Optional.empty());
  }

  /** The file as people know it: its local path, or the place it is fetched from. */
  public String shown() {
    return origin.map(Origin::place).orElse(file.toString());
  }
}
