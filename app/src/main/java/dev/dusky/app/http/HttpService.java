package dev.dusky.app.http;

import dev.dusky.core.failure.Failure;
import io.undertow.Undertow;
import io.undertow.UndertowOptions;
import io.undertow.server.HttpHandler;
import java.net.InetSocketAddress;
import org.xnio.Options;

/**
 * A running HTTP server. A few threads serve any number of connections, since none waits for a
 * client: Undertow reads and writes without blocking and bounds the time of a request's head.
 */
public final class HttpService implements AutoCloseable {

  /** How long a request's head may take, and a connection may be idle. */
  public static final int HEAD_MILLIS = 10_000;

  private static final int IO_THREADS = 2;

  private final Undertow server;

  /**
   * Starts serving.
   *
   * @param workers how many requests may do work that waits at a time
   * @param advice what to do if that address cannot be had
   */
  public HttpService(InetSocketAddress listen, int workers, String advice, HttpHandler handler) {
    server =
        Undertow.builder()
            .addHttpListener(listen.getPort(), listen.getHostString())
            .setIoThreads(IO_THREADS)
            .setWorkerThreads(workers)
            .setWorkerOption(Options.THREAD_DAEMON, true)
            .setSocketOption(Options.TCP_NODELAY, true)
            .setServerOption(UndertowOptions.REQUEST_PARSE_TIMEOUT, HEAD_MILLIS)
            .setServerOption(UndertowOptions.NO_REQUEST_TIMEOUT, HEAD_MILLIS)
            .setServerOption(UndertowOptions.MAX_HEADER_SIZE, 16 << 10)
            .setServerOption(UndertowOptions.MAX_HEADERS, 60)
            .setHandler(handler)
            .build();
    try {
      server.start();
    } catch (RuntimeException e) {
      Throwable cause = e.getCause() == null ? e : e.getCause();
      throw Failure.configuration(
              "Cannot listen on " + listen.getHostString() + ":" + listen.getPort())
          .because(String.valueOf(cause.getMessage()))
          .hint(advice)
          .from(e);
    }
  }

  /** The port that it listens on. */
  public int port() {
    return ((InetSocketAddress) server.getListenerInfo().get(0).getAddress()).getPort();
  }

  @Override
  public void close() {
    server.stop();
  }
}
