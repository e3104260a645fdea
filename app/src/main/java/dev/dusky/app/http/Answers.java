package dev.dusky.app.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.undertow.io.IoCallback;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import io.undertow.util.HttpString;
import java.nio.ByteBuffer;
import java.util.Map;
import java.util.Optional;

/** Answers to requests. */
public final class Answers {

  private static final ObjectMapper JSON = new ObjectMapper();

  private Answers() {}

  /** Answers with a JSON object. */
  public static void send(HttpServerExchange exchange, int status, Map<String, ?> fields) {
    try {
      send(exchange, status, "application/json", JSON.writeValueAsBytes(fields));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a map of texts and numbers can be written", e);
    }
  }

  /** Answers with a body. */
  public static void send(HttpServerExchange exchange, int status, String type, byte[] body) {
    exchange.setStatusCode(status);
    exchange.getResponseHeaders().put(Headers.CONTENT_TYPE, type);
    exchange.getResponseSender().send(ByteBuffer.wrap(body), IoCallback.END_EXCHANGE);
  }

  /** A header of the request. */
  public static Optional<String> header(HttpServerExchange exchange, String name) {
    return Optional.ofNullable(exchange.getRequestHeaders().getFirst(new HttpString(name)));
  }
}
