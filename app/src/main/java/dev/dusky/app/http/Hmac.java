package dev.dusky.app.http;

import dev.dusky.core.secret.Secret;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** Codes by which those who know a secret recognise a text (RFC 2104, with SHA-256). */
public final class Hmac {

  private Hmac() {}

  /** The code of a text, given in parts. */
  public static byte[] of(Secret secret, byte[]... parts) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      byte[] key = secret.reveal().getBytes(StandardCharsets.UTF_8);
      mac.init(new SecretKeySpec(key, "HmacSHA256"));
      for (byte[] part : parts) {
        mac.update(part);
      }
      return mac.doFinal();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has HmacSHA256", e);
    }
  }
}
