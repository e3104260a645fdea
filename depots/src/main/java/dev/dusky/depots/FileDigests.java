package dev.dusky.depots;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Digests of local files and of parts of them. */
final class FileDigests {

  private FileDigests() {}

  static MessageDigest digest(String algorithm) {
    try {
      return MessageDigest.getInstance(algorithm);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java runtime has " + algorithm, e);
    }
  }

  static String sha256(Path file) throws IOException {
    return HexFormat.of().formatHex(of("SHA-256", file, 0, Files.size(file)));
  }

  /** The digest of {@code length} bytes from {@code start} on. */
  static byte[] of(String algorithm, Path file, long start, long length) throws IOException {
    MessageDigest digest = digest(algorithm);
    try (InputStream in = new FileRegion(file, start, length)) {
      byte[] buffer = new byte[256 << 10];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        digest.update(buffer, 0, n);
      }
    }
    return digest.digest();
  }

  /** The etag that the file has when it is stored as {@link S3Upload} does it. */
  static String etag(Path file, long size) throws IOException {
    if (size < S3Upload.MULTIPART_FROM) {
      return HexFormat.of().formatHex(of("MD5", file, 0, size));
    }
    MessageDigest all = digest("MD5");
    int parts = 0;
    for (long start = 0; start < size; start += S3Upload.PART) {
      all.update(of("MD5", file, start, Math.min(S3Upload.PART, size - start)));
      parts++;
    }
    return HexFormat.of().formatHex(all.digest()) + "-" + parts;
  }
}
