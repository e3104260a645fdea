package dev.dusky.app.watch;

import dev.dusky.app.http.Answers;
import dev.dusky.app.http.PageAccess;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import io.undertow.util.HttpString;
import io.undertow.util.Methods;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.function.Supplier;

/** The report at {@code /}. It is made when it is asked for, and kept for some seconds. */
final class LivePage {

  /** How long a page is served before the next one is made. */
  private static final long FRESH_NANOS = 15_000_000_000L;

  private final PageAccess access;
  private final Supplier<String> page;
  private byte[] kept;
  private long keptAt;

  LivePage(Secret secret, Supplier<String> page) {
    this.access = new PageAccess(secret);
    this.page = page;
  }

  /** Answers a request; the page is made on a worker thread. */
  void answer(HttpServerExchange exchange) {
    if (!exchange.getRequestMethod().equals(Methods.GET)) {
      Answers.send(exchange, 405, Map.of("error", "GET the report here"));
    } else if (!access.granted(exchange)) {
      exchange
          .getResponseHeaders()
          .put(Headers.WWW_AUTHENTICATE, "Basic realm=\"dusky\", charset=\"UTF-8\"");
      Answers.send(
          exchange,
          401,
          Map.of("error", "give the secret as password, or use the link of dusky report --link"));
    } else {
      exchange.dispatch(() -> send(exchange));
    }
  }

  private void send(HttpServerExchange exchange) {
    byte[] made;
    try {
      made = made();
    } catch (Failure e) {
      Answers.send(exchange, 503, Map.of("error", e.getMessage()));
      return;
    }
    for (String header :
        new String[] {
          "Cache-Control: no-store",
          "X-Content-Type-Options: nosniff",
          "X-Frame-Options: DENY",
          "Referrer-Policy: no-referrer"
        }) {
      String[] parts = header.split(": ");
      exchange.getResponseHeaders().put(new HttpString(parts[0]), parts[1]);
    }
    Answers.send(exchange, 200, "text/html; charset=utf-8", made);
  }

  private synchronized byte[] made() {
    long now = System.nanoTime();
    if (kept == null || now - keptAt > FRESH_NANOS) {
      kept = page.get().getBytes(StandardCharsets.UTF_8);
      keptAt = now;
    }
    return kept;
  }
}
