package dev.dusky.app.watch;

import dev.dusky.app.http.Answers;
import dev.dusky.app.http.HttpService;
import dev.dusky.app.http.PostedBodies;
import dev.dusky.app.watch.Notifications.Arrival;
import dev.dusky.core.secret.Secret;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import io.undertow.util.HttpString;
import io.undertow.util.Methods;
import java.net.InetSocketAddress;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;

/**
 * The HTTP side of watching: the report at {@code /}, {@code /notify}, {@code /metrics} and {@code
 * /health}.
 */
final class WatchEndpoint implements AutoCloseable {

  /** The largest notification that is read. */
  static final int MOST_BYTES = 1 << 20;

  private final HttpService server;
  private final PostedBodies notifications;
  private final ArrivalDesk desk;
  private final WatchMetrics metrics;
  private final LivePage page;
  private final Supplier<Map<String, Integer>> failing;

  /**
   * Starts serving.
   *
   * @param page asked for the report as a page
   * @param failing asked for the names of what fails, with how many times in a row
   */
  WatchEndpoint(
      InetSocketAddress listen,
      Secret secret,
      ArrivalDesk desk,
      WatchMetrics metrics,
      Supplier<String> page,
      Supplier<Map<String, Integer>> failing) {
    this.desk = desk;
    this.metrics = metrics;
    this.failing = failing;
    this.page = new LivePage(secret, page);
    notifications =
        new PostedBodies(
            secret, MOST_BYTES, "a notification", () -> metrics.notified("refused", 1));
    server = new HttpService(listen, 1, "Choose another address under watch: listen", this::handle);
  }

  /** The port that it listens on. */
  int port() {
    return server.port();
  }

  private void handle(HttpServerExchange exchange) {
    String path = exchange.getRequestPath();
    if (path.equals("/")) {
      page.answer(exchange);
    } else if (path.equals("/notify") || path.startsWith("/notify/")) {
      if (exchange.getRequestMethod().equals(Methods.OPTIONS)) {
        consent(exchange);
      } else {
        notifications.receive(exchange, this::take);
      }
    } else if (path.equals("/metrics")) {
      Answers.send(exchange, 200, metrics.contentType(), metrics.text());
    } else if (path.equals("/health")) {
      health(exchange);
    } else {
      Answers.send(exchange, 404, Map.of("error", "no such page"));
    }
  }

  /**
   * Answers the question whether notifications are wanted here, which senders of CloudEvents ask
   * first (HTTP web hooks for event delivery, 4.1). What they send must carry the secret all the
   * same.
   */
  private static void consent(HttpServerExchange exchange) {
    String origin = exchange.getRequestHeaders().getFirst("WebHook-Request-Origin");
    if (origin == null) {
      Answers.send(exchange, 400, Map.of("error", "the header WebHook-Request-Origin is missing"));
      return;
    }
    exchange.getResponseHeaders().put(new HttpString("WebHook-Allowed-Origin"), origin);
    exchange.getResponseHeaders().put(new HttpString("WebHook-Allowed-Rate"), "*");
    exchange.getResponseHeaders().put(Headers.ALLOW, "POST");
    Answers.send(exchange, 200, Map.of("allowed", origin));
  }

  private void take(HttpServerExchange exchange, byte[] body) {
    List<Arrival> arrivals;
    try {
      arrivals =
          Notifications.read(
              body, Answers.header(exchange, "ce-source"), Answers.header(exchange, "ce-subject"));
    } catch (IllegalArgumentException e) {
      notifications.refuse(exchange, 400, e.getMessage());
      return;
    }
    long taken = arrivals.stream().filter(arrival -> !desk.take(arrival).isEmpty()).count();
    metrics.notified("taken", taken);
    metrics.notified("ignored", arrivals.size() - taken);
    Answers.send(exchange, 202, Map.of("taken", taken, "ignored", arrivals.size() - taken));
  }

  /** Well unless something has failed three times in a row. */
  private void health(HttpServerExchange exchange) {
    Map<String, Integer> all = failing.get();
    boolean well = all.values().stream().noneMatch(times -> times >= 3);
    Answers.send(
        exchange, well ? 200 : 503, Map.of("status", well ? "well" : "failing", "failing", all));
  }

  @Override
  public void close() {
    server.close();
  }
}
