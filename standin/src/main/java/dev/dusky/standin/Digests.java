package dev.dusky.standin;

import java.security.InvalidKeyException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** The digests that the S3 protocol uses. */
final class Digests {

  private Digests() {}

  static MessageDigest of(String algorithm) {
    try {
      return MessageDigest.getInstance(algorithm);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java runtime has " + algorithm, e);
    }
  }

  static byte[] sha256(byte[] data) {
    return of("SHA-256").digest(data);
  }

  static byte[] hmac(byte[] key, byte[] data) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(key, "HmacSHA256"));
      return mac.doFinal(data);
    } catch (NoSuchAlgorithmException | InvalidKeyException e) {
      throw new IllegalStateException("every Java runtime has HmacSHA256", e);
    }
  }

  static String hex(byte[] data) {
    return HexFormat.of().formatHex(data);
  }
}
