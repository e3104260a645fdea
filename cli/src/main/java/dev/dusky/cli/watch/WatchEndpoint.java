package dev.dusky.cli.watch;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpHandler;
import com.sun.net.httpserver.HttpServer;
import dev.dusky.cli.watch.Notifications.Arrival;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;

/** The HTTP side of watching: {@code /notify}, {@code /metrics} and {@code /health}. */
final class WatchEndpoint implements AutoCloseable {

  /** The largest notification that is read. */
  static final int MOST_BYTES = 1 << 20;

  private static final ObjectMapper JSON = new ObjectMapper();

  private final HttpServer server;
  private final ExecutorService threads;
  private final String secret;
  private final ArrivalDesk desk;
  private final WatchMetrics metrics;
  private final Supplier<Map<String, Integer>> failing;

  /**
   * Starts serving.
   *
   * @param failing asked for the names of what fails, with how many times in a row
   */
  WatchEndpoint(
      InetSocketAddress listen,
      Secret secret,
      ArrivalDesk desk,
      WatchMetrics metrics,
      Supplier<Map<String, Integer>> failing) {
    this.secret = secret.reveal();
    this.desk = desk;
    this.metrics = metrics;
    this.failing = failing;
    // Whoever sends slowly must not hold a thread for ever.
    System.setProperty("sun.net.httpserver.maxReqTime", "30");
    System.setProperty("sun.net.httpserver.maxRspTime", "30");
    System.setProperty("sun.net.httpserver.nodelay", "true");
    try {
      server =
          HttpServer.create(new InetSocketAddress(listen.getHostString(), listen.getPort()), 64);
    } catch (IOException e) {
      throw Failure.configuration(
              "Cannot listen on " + listen.getHostString() + ":" + listen.getPort())
          .because(String.valueOf(e.getMessage()))
          .next("Choose another address under watch: listen")
          .from(e);
    }
    threads =
        Executors.newFixedThreadPool(
            4,
            work -> {
              Thread thread = new Thread(work, "dusky-endpoint");
              thread.setDaemon(true);
              return thread;
            });
    server.setExecutor(threads);
    server.createContext(
        "/", guarded(exchange -> answer(exchange, 404, Map.of("error", "no such page"))));
    server.createContext("/notify", guarded(this::notify));
    server.createContext("/metrics", guarded(this::metrics));
    server.createContext("/health", guarded(this::health));
    server.start();
  }

  /** The port that it listens on. */
  int port() {
    return server.getAddress().getPort();
  }

  private static HttpHandler guarded(HttpHandler handler) {
    return exchange -> {
      try (exchange) {
        handler.handle(exchange);
      }
    };
  }

  private void notify(HttpExchange exchange) throws IOException {
    if (!exchange.getRequestMethod().equals("POST")) {
      refuse(exchange, 405, "POST a notification here");
      return;
    }
    if (!authentic(exchange)) {
      exchange.getResponseHeaders().set("WWW-Authenticate", "Bearer");
      refuse(exchange, 401, "the header Authorization must be Bearer and the secret");
      return;
    }
    byte[] body;
    try (InputStream in = exchange.getRequestBody()) {
      body = in.readNBytes(MOST_BYTES + 1);
    }
    if (body.length > MOST_BYTES) {
      refuse(exchange, 413, "at most " + MOST_BYTES + " bytes are read");
      return;
    }
    List<Arrival> arrivals;
    try {
      arrivals =
          Notifications.read(body, header(exchange, "ce-source"), header(exchange, "ce-subject"));
    } catch (IllegalArgumentException e) {
      refuse(exchange, 400, e.getMessage());
      return;
    }
    long taken = arrivals.stream().filter(desk::take).count();
    metrics.notified("taken", taken);
    metrics.notified("ignored", arrivals.size() - taken);
    answer(exchange, 202, Map.of("taken", taken, "ignored", arrivals.size() - taken));
  }

  private void refuse(HttpExchange exchange, int status, String why) throws IOException {
    metrics.notified("refused", 1);
    answer(exchange, status, Map.of("error", why));
  }

  private boolean authentic(HttpExchange exchange) {
    byte[] given = header(exchange, "Authorization").orElse("").getBytes(StandardCharsets.UTF_8);
    byte[] wanted = ("Bearer " + secret).getBytes(StandardCharsets.UTF_8);
    return MessageDigest.isEqual(given, wanted);
  }

  private static Optional<String> header(HttpExchange exchange, String name) {
    return Optional.ofNullable(exchange.getRequestHeaders().getFirst(name));
  }

  private void metrics(HttpExchange exchange) throws IOException {
    answer(exchange, 200, metrics.contentType(), metrics.text());
  }

  /** Well unless something has failed three times in a row. */
  private void health(HttpExchange exchange) throws IOException {
    Map<String, Integer> all = failing.get();
    boolean well = all.values().stream().noneMatch(times -> times >= 3);
    answer(exchange, well ? 200 : 503, Map.of("status", well ? "well" : "failing", "failing", all));
  }

  private static void answer(HttpExchange exchange, int status, Map<String, ?> fields)
      throws IOException {
    answer(exchange, status, "application/json", JSON.writeValueAsBytes(fields));
  }

  private static void answer(HttpExchange exchange, int status, String type, byte[] body)
      throws IOException {
    exchange.getResponseHeaders().set("Content-Type", type);
    exchange.sendResponseHeaders(status, body.length);
    exchange.getResponseBody().write(body);
  }

  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
