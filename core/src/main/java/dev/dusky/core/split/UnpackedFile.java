package dev.dusky.core.split;

import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.bytes.TemporaryFolder;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * A local file's uncompressed bytes as a file: itself, or a temporary one that is removed when
 * closed.
 *
 * @param file where the bytes are
 * @param made whether it was made here
 * @param compressed whether the bytes are still compressed
 */
public record UnpackedFile(Path file, boolean made, boolean compressed) implements AutoCloseable {

  /**
   * Opens a file.
   *
   * @param unpack whether a compressed file is decompressed
   */
  public static UnpackedFile of(Path file, boolean unpack) throws IOException {
    try (FileContent content =
        new FileContent(file.toString(), Files.newInputStream(file), ContentLimits.DEFAULT)) {
      boolean compressed = content.compression() != Compression.PLAIN;
      if (!compressed || !unpack) {
        return new UnpackedFile(file, false, compressed);
      }
      Path plain = TemporaryFolder.newFile(".plain");
      try (OutputStream out = Files.newOutputStream(plain)) {
        content.transferTo(out);
      } catch (IOException | RuntimeException e) {
        Files.deleteIfExists(plain);
        throw e;
      }
      return new UnpackedFile(plain, true, false);
    }
  }

  @Override
  public void close() throws IOException {
    if (made) {
      Files.deleteIfExists(file);
    }
  }
}
