package dev.dusky.depots.transfer;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;

/** Digests of local files and of parts of them. */
public final class FileDigests {

  private FileDigests() {}

  public static MessageDigest digest(String algorithm) {
    try {
      return MessageDigest.getInstance(algorithm);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java runtime has " + algorithm, e);
    }
  }

  /** The digest of {@code length} bytes from {@code start} on. */
  public static byte[] of(String algorithm, Path file, long start, long length) throws IOException {
    MessageDigest digest = digest(algorithm);
    try (InputStream in = new FileRegion(file, start, length)) {
      byte[] buffer = new byte[256 << 10];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        digest.update(buffer, 0, n);
      }
    }
    return digest.digest();
  }
}
