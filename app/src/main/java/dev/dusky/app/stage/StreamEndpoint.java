package dev.dusky.app.stage;

import dev.dusky.app.http.Answers;
import dev.dusky.app.http.HttpService;
import dev.dusky.app.http.PostedBodies;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.stream.PostedRecords;
import dev.dusky.core.stream.StreamIntake;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.util.Map;

/**
 * Takes records over HTTP: {@code POST /records} with JSON lines, a JSON array, or CloudEvents
 * singly or as a batch. An answer of 200 means that the records are durable on local disk; any
 * other answer, or none, that they must be sent again.
 */
final class StreamEndpoint implements AutoCloseable {

  private static final int MOST_BYTES = 16 << 20;
  private static final int WORKERS = 16;
  private static final String RETRY_SECONDS = "5";

  private final HttpService server;
  private final PostedBodies bodies;
  private final StreamIntake intake;

  StreamEndpoint(InetSocketAddress listen, Secret secret, StreamIntake intake) {
    this.intake = intake;
    bodies = new PostedBodies(secret, MOST_BYTES, "records", () -> {});
    server = new HttpService(listen, WORKERS, "Choose another address for --listen", this::handle);
  }

  int port() {
    return server.port();
  }

  private void handle(HttpServerExchange exchange) {
    if (exchange.getRequestPath().equals("/records")) {
      bodies.receive(exchange, (whole, body) -> whole.dispatch(() -> take(whole, body)));
    } else if (exchange.getRequestPath().equals("/health")) {
      boolean full = intake.full();
      Answers.send(exchange, full ? 503 : 200, Map.of("status", full ? "full" : "well"));
    } else {
      Answers.send(exchange, 404, Map.of("error", "no such page"));
    }
  }

  private void take(HttpServerExchange exchange, byte[] body) {
    PostedRecords records;
    try {
      records = PostedRecords.of(body);
    } catch (IllegalArgumentException e) {
      bodies.refuse(exchange, 400, e.getMessage());
      return;
    }
    if (intake.full()) {
      later(exchange, "the depot does not take files at the moment");
      return;
    }
    try {
      intake.keep(records.lines(), records.length());
    } catch (IOException e) {
      later(exchange, "the records cannot be kept: " + e.getMessage());
      return;
    } catch (Failure failure) {
      later(exchange, failure.getMessage());
      return;
    }
    Answers.send(exchange, 200, Map.of("kept", records.count()));
  }

  private void later(HttpServerExchange exchange, String why) {
    exchange.getResponseHeaders().put(Headers.RETRY_AFTER, RETRY_SECONDS);
    bodies.refuse(exchange, 503, why);
  }

  @Override
  public void close() {
    server.close();
  }
}
