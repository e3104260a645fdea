package dev.dusky.standin;

import com.sun.net.httpserver.HttpExchange;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Base64;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Verifies that a request is signed with the account's key, as the public description of Shared Key
 * authorization lays down, or carries a token or a shared access that was accepted before.
 */
final class BlobAccess {

  private static final String[] HEADERS = {
    "Content-Encoding",
    "Content-Language",
    "Content-Length",
    "Content-MD5",
    "Content-Type",
    "Date",
    "If-Modified-Since",
    "If-Match",
    "If-None-Match",
    "If-Unmodified-Since",
    "Range"
  };

  private final String account;
  private final byte[] key;
  private final Set<String> tokens = ConcurrentHashMap.newKeySet();

  BlobAccess(String account, String key) {
    this.account = account;
    this.key = Base64.getDecoder().decode(key);
  }

  void accept(String token) {
    tokens.add(token);
  }

  /** Fails unless the request may be answered. */
  void verify(HttpExchange exchange, Map<String, String> query) {
    String header = exchange.getRequestHeaders().getFirst("Authorization");
    if (query.containsKey("sig")) {
      if (!tokens.contains(query.get("sig"))) {
        throw new StoreException(403, "AuthenticationFailed", "Signature did not match.");
      }
      return;
    }
    if (header == null) {
      throw new StoreException(401, "NoAuthenticationInformation", "There is no authorization.");
    }
    if (header.startsWith("Bearer ")) {
      if (!tokens.contains(header.substring("Bearer ".length()))) {
        throw new StoreException(401, "InvalidAuthenticationInfo", "The token is not known.");
      }
      return;
    }
    String signature =
        Base64.getEncoder()
            .encodeToString(
                Digests.hmac(key, toSign(exchange, query).getBytes(StandardCharsets.UTF_8)));
    String expected = "SharedKey " + account + ":" + signature;
    if (!MessageDigest.isEqual(expected.getBytes(), header.getBytes())) {
      throw new StoreException(
          403, "AuthenticationFailed", "The signature is not that of the account's key.");
    }
  }

  private String toSign(HttpExchange exchange, Map<String, String> query) {
    StringBuilder text = new StringBuilder(exchange.getRequestMethod()).append('\n');
    for (String name : HEADERS) {
      String value = exchange.getRequestHeaders().getFirst(name);
      boolean nothing = value == null || name.equals("Content-Length") && value.equals("0");
      text.append(nothing ? "" : value).append('\n');
    }
    new TreeMap<>(RequestText.headers(exchange, ""))
        .forEach(
            (name, value) -> {
              if (name.startsWith("x-ms-")) {
                text.append(name).append(':').append(value.strip()).append('\n');
              }
            });
    text.append('/').append(account).append(exchange.getRequestURI().getRawPath());
    new TreeMap<>(query)
        .forEach(
            (name, value) ->
                text.append('\n').append(name.toLowerCase(Locale.ROOT)).append(':').append(value));
    return text.toString();
  }
}
