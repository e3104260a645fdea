package dev.dusky.app.http;

import dev.dusky.core.secret.Secret;
import io.undertow.server.HttpServerExchange;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Base64;
import java.util.Deque;
import java.util.Optional;

/**
 * Who may read a page: those who give the secret as the password of HTTP Basic (RFC 7617), or a
 * link with a token that is made from the secret and does not contain it.
 */
public final class PageAccess {

  private static final String TOKEN = "token";
  private static final String BASIC = "Basic ";

  private final byte[] secret;
  private final byte[] token;

  /** Access with that secret. */
  public PageAccess(Secret secret) {
    this.secret = secret.reveal().getBytes(StandardCharsets.UTF_8);
    this.token = token(secret).getBytes(StandardCharsets.UTF_8);
  }

  /** The query of a link that needs no password. */
  public static String query(Secret secret) {
    return "?" + TOKEN + "=" + token(secret);
  }

  private static String token(Secret secret) {
    byte[] code = Hmac.of(secret, "report".getBytes(StandardCharsets.UTF_8));
    return Base64.getUrlEncoder().withoutPadding().encodeToString(code);
  }

  /** Whether the request may read the page. */
  public boolean granted(HttpServerExchange exchange) {
    Deque<String> given = exchange.getQueryParameters().get(TOKEN);
    return given != null && equal(token, given.getFirst())
        || password(Answers.header(exchange, "Authorization").orElse(""))
            .filter(password -> equal(secret, password))
            .isPresent();
  }

  private static Optional<String> password(String header) {
    if (!header.startsWith(BASIC)) {
      return Optional.empty();
    }
    try {
      byte[] pair = Base64.getDecoder().decode(header.substring(BASIC.length()).strip());
      String text = new String(pair, StandardCharsets.UTF_8);
      int colon = text.indexOf(':');
      return colon < 0 ? Optional.empty() : Optional.of(text.substring(colon + 1));
    } catch (IllegalArgumentException e) {
      return Optional.empty(); // not Base64, so not the password
    }
  }

  private static boolean equal(byte[] expected, String given) {
    return MessageDigest.isEqual(expected, given.getBytes(StandardCharsets.UTF_8));
  }
}
