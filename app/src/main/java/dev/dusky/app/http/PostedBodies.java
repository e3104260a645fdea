package dev.dusky.app.http;

import dev.dusky.core.secret.Secret;
import io.undertow.io.Receiver;
import io.undertow.server.HttpServerExchange;
import io.undertow.util.Headers;
import io.undertow.util.Methods;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.xnio.IoUtils;
import org.xnio.XnioExecutor;

/**
 * Receives the bodies of POST requests from clients that know the secret. Size and time of a body
 * are bounded, and a client that is refused receives the reason.
 */
public final class PostedBodies {

  /** Takes bodies on a thread of the server, which must not wait. */
  @FunctionalInterface
  public interface Taker {
    /** Takes the body and answers. */
    void take(HttpServerExchange exchange, byte[] body);
  }

  /** Bodies up to this many bytes are skipped before they are refused. */
  private static final int MOST_PASSED_OVER = 16 << 20;

  /** How long a request's body may take. */
  private static final int BODY_SECONDS = 30;

  /** How long a client that was refused may continue sending before the connection is cut. */
  private static final int LINGER_SECONDS = 2;

  private final byte[] secret;
  private final int mostBytes;
  private final String what;
  private final Runnable refused;

  /**
   * Bodies of one kind.
   *
   * @param mostBytes the largest body that is read
   * @param what what is to be posted, as a message says it
   * @param refused told each time that a request is refused
   */
  public PostedBodies(Secret secret, int mostBytes, String what, Runnable refused) {
    this.secret = ("Bearer " + secret.reveal()).getBytes(StandardCharsets.UTF_8);
    this.mostBytes = mostBytes;
    this.what = what;
    this.refused = refused;
  }

  /** Checks the head of a request, refuses it before its body is read, or receives the body. */
  public void receive(HttpServerExchange exchange, Taker taker) {
    if (!exchange.getRequestMethod().equals(Methods.POST)) {
      refuse(exchange, 405, "POST " + what + " here");
    } else if (!authentic(exchange)) {
      exchange.getResponseHeaders().put(Headers.WWW_AUTHENTICATE, "Bearer");
      refuse(exchange, 401, "the header Authorization must be Bearer and the secret");
    } else if (exchange.getRequestContentLength() > Math.max(MOST_PASSED_OVER, mostBytes)) {
      refuseLarge(exchange);
    } else if (exchange.getRequestContentLength() > mostBytes) {
      passOver(exchange);
    } else {
      exchange.setMaxEntitySize(mostBytes); // of one that does not say how long it is
      XnioExecutor.Key late = cutAfter(exchange, BODY_SECONDS);
      exchange
          .getRequestReceiver()
          .receiveFullBytes(
              (ended, body) -> {
                late.remove();
                taker.take(ended, body);
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

  private void refuseLarge(HttpServerExchange exchange) {
    refuse(exchange, 413, "at most " + mostBytes + " bytes are read");
  }

  /** Refuses a request. */
  public void refuse(HttpServerExchange exchange, int status, String why) {
    refused.run();
    if (!exchange.isRequestComplete()) {
      exchange.setPersistent(false);
      cutAfter(exchange, LINGER_SECONDS);
    }
    Answers.send(exchange, status, Map.of("error", why));
  }

  private boolean authentic(HttpServerExchange exchange) {
    byte[] given =
        Answers.header(exchange, "Authorization").orElse("").getBytes(StandardCharsets.UTF_8);
    return MessageDigest.isEqual(given, secret);
  }
}
