package dev.dusky.core.record;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.bytes.SpooledContent;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;

/**
 * A file to be read as records.
 *
 * @param path how messages name it
 * @param content its uncompressed bytes from the beginning
 * @param random its bytes at any position, if they can be had without reading it all
 */
public record SourceFile(String path, InputStream content, Optional<RandomContent> random) {

  /** A file that can be read from its beginning only. */
  public static SourceFile of(String path, InputStream content) {
    return new SourceFile(path, content, Optional.empty());
  }

  /** Its bytes at any position, by way of a temporary file if need be; to be closed. */
  public RandomContent anywhere() throws IOException {
    return random.isPresent() ? random.get() : SpooledContent.of(content);
  }
}
