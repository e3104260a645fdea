package dev.dusky.standin;

import com.sun.net.httpserver.HttpExchange;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Verifies a request's Signature Version 4 in its Authorization header, step by step as the public
 * description of the signing process lays down.
 */
final class SignatureCheck {

  private static final Pattern AUTHORIZATION =
      Pattern.compile(
          "AWS4-HMAC-SHA256 Credential=([^/]+)/(\\d{8})/([^/]+)/([^/]+)/aws4_request,"
              + "\\s*SignedHeaders=([^,]+),\\s*Signature=([0-9a-f]{64})");

  /** A secret key, and the session token that must come with it, or null. */
  private record Known(String secretKey, String sessionToken) {}

  private final Map<String, Known> keys = new ConcurrentHashMap<>();

  SignatureCheck(String accessKey, String secretKey) {
    accept(accessKey, secretKey, null);
  }

  /** Accepts one more key; a temporary one comes with its session token. */
  void accept(String accessKey, String secretKey, String sessionToken) {
    keys.put(accessKey, new Known(secretKey, sessionToken));
  }

  /** Fails unless the request is signed with a known key. */
  void verify(HttpExchange exchange) {
    String header = exchange.getRequestHeaders().getFirst("Authorization");
    if (header == null) {
      throw new StoreException(403, "AccessDenied", "The request is not signed.");
    }
    Matcher parts = AUTHORIZATION.matcher(header);
    if (!parts.matches()) {
      throw new StoreException(400, "AuthorizationHeaderMalformed", "It cannot be understood.");
    }
    Known known = keys.get(parts.group(1));
    if (known == null) {
      throw new StoreException(403, "InvalidAccessKeyId", "The access key is not known.");
    }
    String token = exchange.getRequestHeaders().getFirst("X-Amz-Security-Token");
    if (!Objects.equals(token, known.sessionToken())) {
      throw new StoreException(400, "InvalidToken", "The session token is not that of the key.");
    }
    String date = parts.group(2);
    String region = parts.group(3);
    String service = parts.group(4);
    String scope = date + "/" + region + "/" + service + "/aws4_request";
    String toSign =
        "AWS4-HMAC-SHA256\n"
            + exchange.getRequestHeaders().getFirst("X-Amz-Date")
            + "\n"
            + scope
            + "\n"
            + Digests.hex(Digests.sha256(utf8(canonical(exchange, parts.group(5)))));
    byte[] key = Digests.hmac(utf8("AWS4" + known.secretKey()), utf8(date));
    key = Digests.hmac(key, utf8(region));
    key = Digests.hmac(key, utf8(service));
    key = Digests.hmac(key, utf8("aws4_request"));
    String signature = Digests.hex(Digests.hmac(key, utf8(toSign)));
    if (!MessageDigest.isEqual(utf8(signature), utf8(parts.group(6)))) {
      throw new StoreException(
          403, "SignatureDoesNotMatch", "The signature is not that of the secret key.");
    }
  }

  private static String canonical(HttpExchange exchange, String signedHeaders) {
    StringBuilder text = new StringBuilder();
    text.append(exchange.getRequestMethod()).append('\n');
    text.append(exchange.getRequestURI().getRawPath()).append('\n');
    text.append(query(exchange.getRequestURI().getRawQuery())).append('\n');
    for (String name : signedHeaders.split(";")) {
      List<String> values = exchange.getRequestHeaders().get(name);
      List<String> trimmed = new ArrayList<>();
      if (values != null) {
        values.forEach(value -> trimmed.add(value.strip().replaceAll(" +", " ")));
      }
      text.append(name.toLowerCase(Locale.ROOT))
          .append(':')
          .append(String.join(",", trimmed))
          .append('\n');
    }
    text.append('\n').append(signedHeaders).append('\n');
    text.append(exchange.getRequestHeaders().getFirst("X-Amz-Content-Sha256"));
    return text.toString();
  }

  private static String query(String raw) {
    if (raw == null || raw.isEmpty()) {
      return "";
    }
    List<String> parameters = new ArrayList<>();
    for (String parameter : raw.split("&")) {
      parameters.add(parameter.contains("=") ? parameter : parameter + "=");
    }
    Collections.sort(parameters);
    return String.join("&", parameters);
  }

  private static byte[] utf8(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }
}
