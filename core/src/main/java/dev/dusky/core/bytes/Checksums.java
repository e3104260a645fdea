package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Checksums of files. */
public final class Checksums {

  private static final int BUFFER = 64 << 10;

  private Checksums() {}

  /** The SHA-256 of a file in lower-case hexadecimal. */
  public static String sha256(Path file) throws IOException {
    MessageDigest digest = sha256();
    try (InputStream in = Files.newInputStream(file)) {
      byte[] buffer = new byte[BUFFER];
      for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
        digest.update(buffer, 0, read);
      }
    }
    return HexFormat.of().formatHex(digest.digest());
  }

  /** A new SHA-256 digest. */
  public static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }
}
