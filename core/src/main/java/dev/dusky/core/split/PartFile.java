package dev.dusky.core.split;

import dev.dusky.core.bytes.Checksums;
import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.util.HexFormat;

/**
 * A part as a temporary file: the file's head and a range of its bytes, compressed.
 *
 * @param file where it is; removed when closed
 * @param size its stored bytes
 * @param sha256 their SHA-256 in lower-case hexadecimal
 */
public record PartFile(Path file, long size, String sha256) implements AutoCloseable {

  private static final int BUFFER = 256 << 10;

  /** Writes a part of a file of uncompressed bytes. */
  public static PartFile write(Path whole, Cut cut, PartCompression compression)
      throws IOException {
    Path file = TemporaryFolder.newFile(".part");
    MessageDigest digest = Checksums.sha256();
    try {
      try (InputStream in = Files.newInputStream(whole);
          OutputStream out =
              compression.open(
                  new DigestOutputStream(
                      new BufferedOutputStream(Files.newOutputStream(file), BUFFER), digest))) {
        copy(in, out, cut.head());
        in.skipNBytes(cut.start() - cut.head());
        copy(in, out, cut.end() - cut.start());
      }
      return new PartFile(file, Files.size(file), HexFormat.of().formatHex(digest.digest()));
    } catch (IOException | RuntimeException e) {
      Files.deleteIfExists(file);
      throw e;
    }
  }

  private static void copy(InputStream in, OutputStream out, long length) throws IOException {
    byte[] buffer = new byte[BUFFER];
    for (long rest = length; rest > 0; ) {
      int read = in.read(buffer, 0, (int) Math.min(rest, buffer.length));
      if (read < 0) {
        throw new EOFException("the file became shorter while it was read");
      }
      out.write(buffer, 0, read);
      rest -= read;
    }
  }

  @Override
  public void close() throws IOException {
    Files.deleteIfExists(file);
  }
}
