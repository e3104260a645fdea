package dev.dusky.app.watch;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.watch.Notifications.Arrival;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import io.undertow.Undertow;
import io.undertow.UndertowOptions;
import io.undertow.io.IoCallback;
import io.undertow.io.Receiver;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import io.undertow.util.HttpString;
import io.undertow.util.Methods;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.xnio.IoUtils;
import org.xnio.Options;
import org.xnio.XnioExecutor;

/**
 * The HTTP side of watching: {@code /notify}, {@code /metrics} and {@code /health}. A few threads
 * serve any number of connections, since none waits for a client: Undertow reads and writes without
 * blocking and bounds the time of a request's head; the time of its body is bounded here.
 */
final class WatchEndpoint implements AutoCloseable {

  /** The largest notification that is read. */
  static final int MOST_BYTES = 1 << 20;

  /** How long a request's head may take, and a connection may be idle. */
  static final int HEAD_MILLIS = 10_000;

  /** Bodies up to this many bytes are skipped before they are refused. */
  private static final int MOST_PASSED_OVER = 16 << 20;

  /** How long a request's body may take. */
  private static final int BODY_SECONDS = 30;

  /** How long a client that was refused may continue sending before the connection is cut. */
  private static final int LINGER_SECONDS = 2;

  private static final int IO_THREADS = 2;
  private static final ObjectMapper JSON = new ObjectMapper();

  private final Undertow server;
  private final byte[] secret;
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
    this.secret = ("Bearer " + secret.reveal()).getBytes(StandardCharsets.UTF_8);
    this.desk = desk;
    this.metrics = metrics;
    this.failing = failing;
    server =
        Undertow.builder()
            .addHttpListener(listen.getPort(), listen.getHostString())
            .setIoThreads(IO_THREADS)
            .setWorkerThreads(1)
            .setWorkerOption(Options.THREAD_DAEMON, true)
            .setSocketOption(Options.TCP_NODELAY, true)
            .setServerOption(UndertowOptions.REQUEST_PARSE_TIMEOUT, HEAD_MILLIS)
            .setServerOption(UndertowOptions.NO_REQUEST_TIMEOUT, HEAD_MILLIS)
            .setServerOption(UndertowOptions.MAX_HEADER_SIZE, 16 << 10)
            .setServerOption(UndertowOptions.MAX_HEADERS, 60)
            .setHandler(this::handle)
            .build();
    try {
      server.start();
    } catch (RuntimeException e) {
      Throwable cause = e.getCause() == null ? e : e.getCause();
      throw Failure.configuration(
              "Cannot listen on " + listen.getHostString() + ":" + listen.getPort())
          .because(String.valueOf(cause.getMessage()))
          .hint("Choose another address under watch: listen")
          .from(e);
    }
  }

  /** The port that it listens on. */
  int port() {
    return ((InetSocketAddress) server.getListenerInfo().get(0).getAddress()).getPort();
  }

  private void handle(HttpServerExchange exchange) {
    String path = exchange.getRequestPath();
    if (path.equals("/notify") || path.startsWith("/notify/")) {
      notify(exchange);
    } else if (path.equals("/metrics")) {
      answer(exchange, 200, metrics.contentType(), metrics.text());
    } else if (path.equals("/health")) {
      health(exchange);
    } else {
      answer(exchange, 404, Map.of("error", "no such page"));
    }
  }

  /** Checks the head of a request, and refuses it before its body is read. */
  private void notify(HttpServerExchange exchange) {
    if (!exchange.getRequestMethod().equals(Methods.POST)) {
      refuse(exchange, 405, "POST a notification here");
    } else if (!authentic(exchange)) {
      exchange.getResponseHeaders().put(Headers.WWW_AUTHENTICATE, "Bearer");
      refuse(exchange, 401, "the header Authorization must be Bearer and the secret");
    } else if (exchange.getRequestContentLength() > MOST_PASSED_OVER) {
      refuseLarge(exchange);
    } else if (exchange.getRequestContentLength() > MOST_BYTES) {
      passOver(exchange);
    } else {
      exchange.setMaxEntitySize(MOST_BYTES); // of one that does not say how long it is
      XnioExecutor.Key late = cutAfter(exchange, BODY_SECONDS);
      exchange
          .getRequestReceiver()
          .receiveFullBytes(
              (ended, body) -> {
                late.remove();
                take(ended, body);
              },
              (ended, e) -> {
                late.remove();
                if (e instanceof Receiver.RequestToLargeException) {
                  refuseLarge(ended);
                } else {
                  IoUtils.safeClose(ended.getConnection()); // the client has gone
                }
              });
    }
  }

  /** Reads the whole body of an authorised client, so that it receives the reason of a refusal. */
  private void passOver(HttpServerExchange exchange) {
    exchange.setMaxEntitySize(MOST_PASSED_OVER);
    XnioExecutor.Key late = cutAfter(exchange, BODY_SECONDS);
    exchange
        .getRequestReceiver()
        .receivePartialBytes(
            (told, bytes, last) -> {
              if (last) {
                late.remove();
                refuseLarge(told);
              }
            },
            (ended, e) -> {
              late.remove();
              IoUtils.safeClose(ended.getConnection());
            });
  }

  private static XnioExecutor.Key cutAfter(HttpServerExchange exchange, int seconds) {
    return exchange
        .getIoThread()
        .executeAfter(() -> IoUtils.safeClose(exchange.getConnection()), seconds, TimeUnit.SECONDS);
  }

  private void take(HttpServerExchange exchange, byte[] body) {
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

  private void refuseLarge(HttpServerExchange exchange) {
    refuse(exchange, 413, "at most " + MOST_BYTES + " bytes are read");
  }

  private void refuse(HttpServerExchange exchange, int status, String why) {
    metrics.notified("refused", 1);
    if (!exchange.isRequestComplete()) {
      exchange.setPersistent(false);
      cutAfter(exchange, LINGER_SECONDS);
    }
    answer(exchange, status, Map.of("error", why));
  }

  private boolean authentic(HttpServerExchange exchange) {
    byte[] given = header(exchange, "Authorization").orElse("").getBytes(StandardCharsets.UTF_8);
    return MessageDigest.isEqual(given, secret);
  }

  private static Optional<String> header(HttpServerExchange exchange, String name) {
    return Optional.ofNullable(exchange.getRequestHeaders().getFirst(new HttpString(name)));
  }

  /** Well unless something has failed three times in a row. */
  private void health(HttpServerExchange exchange) {
    Map<String, Integer> all = failing.get();
    boolean well = all.values().stream().noneMatch(times -> times >= 3);
    answer(exchange, well ? 200 : 503, Map.of("status", well ? "well" : "failing", "failing", all));
  }

  private static void answer(HttpServerExchange exchange, int status, Map<String, ?> fields) {
    try {
      answer(exchange, status, "application/json", JSON.writeValueAsBytes(fields));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a map of texts and numbers can be written", e);
    }
  }

  private static void answer(HttpServerExchange exchange, int status, String type, byte[] body) {
    exchange.setStatusCode(status);
    exchange.getResponseHeaders().put(Headers.CONTENT_TYPE, type);
    exchange.getResponseSender().send(ByteBuffer.wrap(body), IoCallback.END_EXCHANGE);
  }

  @Override
  public void close() {
    server.stop();
  }
}
