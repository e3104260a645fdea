package dev.dusky.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;

/** The parts of requests and answers that are text. */
final class RequestText {

  private RequestText() {}

  /** The parameters of a query, decoded. */
  static Map<String, String> query(String raw) {
    Map<String, String> result = new HashMap<>();
    if (raw != null) {
      for (String parameter : raw.split("&")) {
        int equals = parameter.indexOf('=');
        result.put(
            decode(equals < 0 ? parameter : parameter.substring(0, equals)),
            equals < 0 ? "" : decode(parameter.substring(equals + 1)));
      }
    }
    return result;
  }

  static String decode(String text) {
    return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
  }

  /** The headers with a prefix, in lower case and without it. */
  static Map<String, String> headers(HttpExchange exchange, String prefix) {
    Map<String, String> found = new HashMap<>();
    exchange
        .getRequestHeaders()
        .forEach(
            (name, values) -> {
              String lower = name.toLowerCase(Locale.ROOT);
              if (lower.startsWith(prefix)) {
                found.put(lower.substring(prefix.length()), values.get(0));
              }
            });
    return found;
  }

  /** Answers with an XML document, or with nothing. */
  static void xml(HttpExchange exchange, int status, String body) throws IOException {
    byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "application/xml");
    exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
    if (bytes.length > 0) {
      exchange.getResponseBody().write(bytes);
      exchange.getResponseBody().close();
    }
  }
}
