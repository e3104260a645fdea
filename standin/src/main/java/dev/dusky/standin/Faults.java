package dev.dusky.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;

/** Faults on demand. None at first; any thread may switch any fault. */
public final class Faults {

  /** A right that can be taken away. */
  public enum Right {
    /** Listing a bucket. */
    LIST,
    /** Reading objects. */
    READ,
    /** Writing objects. */
    WRITE
  }

  private final Set<Right> denied = EnumSet.noneOf(Right.class);
  private final AtomicInteger unavailable = new AtomicInteger();
  private final AtomicInteger instead = new AtomicInteger();
  private final AtomicReference<Answer> insteadOf = new AtomicReference<>();
  private final AtomicInteger cuts = new AtomicInteger();
  private final AtomicLong cutAfter = new AtomicLong();
  private volatile Duration latency = Duration.ZERO;
  private volatile long pace = Long.MAX_VALUE;
  private volatile boolean unconditional;

  /** Each answer waits so long. */
  public void latency(Duration duration) {
    latency = duration;
  }

  /** Writes with a condition are refused, as stores do that know none. */
  public void unconditional() {
    unconditional = true;
  }

  /** Each object is sent no faster than that many bytes a second. */
  public void pace(long bytesPerSecond) {
    pace = bytesPerSecond;
  }

  /** The next requests, that many, are answered with 503. */
  public void unavailable(int requests) {
    unavailable.set(requests);
  }

  /** The next reads lose their connection after that many bytes. */
  public void cut(int reads, long afterBytes) {
    cutAfter.set(afterBytes);
    cuts.set(reads);
  }

  /**
   * An answer given in place of the right one.
   *
   * @param status the HTTP status
   * @param headers its headers
   * @param body its body
   */
  public record Answer(int status, Map<String, String> headers, String body) {}

  /** The next requests get this answer, whatever they ask for. */
  public void answer(int requests, Answer answer) {
    insteadOf.set(answer);
    instead.set(requests);
  }

  /** Takes a right away. */
  public void deny(Right right) {
    synchronized (denied) {
      denied.add(right);
    }
  }

  /** Makes all well again. */
  public void clear() {
    latency = Duration.ZERO;
    pace = Long.MAX_VALUE;
    unconditional = false;
    unavailable.set(0);
    instead.set(0);
    cuts.set(0);
    synchronized (denied) {
      denied.clear();
    }
  }

  private boolean isDenied(Right right) {
    synchronized (denied) {
      return denied.contains(right);
    }
  }

  /** Waits as long as was asked for, and answers if something else is to be answered. */
  boolean answered(HttpExchange exchange) throws IOException, InterruptedException {
    delay();
    if (unavailable.getAndUpdate(n -> Math.max(0, n - 1)) > 0) {
      exchange.getResponseHeaders().set("Retry-After", "0");
      throw new StoreException(503, "SlowDown", "Please try again.");
    }
    boolean writes = List.of("PUT", "POST").contains(exchange.getRequestMethod());
    boolean condition =
        exchange.getRequestHeaders().containsKey("If-None-Match")
            || exchange.getRequestHeaders().containsKey("If-Match");
    if (unconditional && writes && condition) {
      throw new StoreException(501, "NotImplemented", "A header implies what is not implemented.");
    }
    if (instead.getAndUpdate(n -> Math.max(0, n - 1)) == 0) {
      return false;
    }
    Answer answer = insteadOf.get();
    exchange.getRequestBody().readAllBytes();
    answer.headers().forEach(exchange.getResponseHeaders()::set);
    byte[] body = answer.body().getBytes(StandardCharsets.UTF_8);
    boolean head = exchange.getRequestMethod().equals("HEAD");
    exchange.sendResponseHeaders(answer.status(), head || body.length == 0 ? -1 : body.length);
    if (!head) {
      exchange.getResponseBody().write(body);
    }
    return true;
  }

  /** Fails if a right was taken away. */
  void demand(Right right, String code) {
    if (isDenied(right)) {
      throw new StoreException(403, code, "Access denied.");
    }
  }

  /** After how many bytes this read is to be cut, or -1. */
  long takeCut() {
    return cuts.getAndUpdate(n -> Math.max(0, n - 1)) > 0 ? cutAfter.get() : -1;
  }

  /** Waits until that many bytes may have been sent since a moment of {@link System#nanoTime}. */
  void keepPace(long bytes, long startNanos) throws InterruptedException {
    long due = (long) (bytes * 1e9 / pace) - (System.nanoTime() - startNanos);
    if (due > 0) {
      TimeUnit.NANOSECONDS.sleep(due);
    }
  }

  private void delay() throws InterruptedException {
    Thread.sleep(latency.toMillis());
  }
}
