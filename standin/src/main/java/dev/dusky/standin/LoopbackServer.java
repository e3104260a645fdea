package dev.dusky.standin;

import com.sun.net.httpserver.HttpHandler;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import javax.net.ssl.SSLContext;

/** An HTTP server on the loopback interface. */
final class LoopbackServer implements AutoCloseable {

  private final HttpServer server;
  private final ExecutorService threads;
  private final String scheme;

  LoopbackServer(HttpHandler handler, int port) throws IOException {
    this(handler, port, null);
  }

  /** A server that speaks TLS unless the context is null. */
  LoopbackServer(HttpHandler handler, int port, SSLContext tls) throws IOException {
    System.setProperty("sun.net.httpserver.nodelay", "true");
    InetSocketAddress at = new InetSocketAddress(InetAddress.getLoopbackAddress(), port);
    if (tls == null) {
      server = HttpServer.create(at, 128);
      scheme = "http";
    } else {
      HttpsServer secure = HttpsServer.create(at, 128);
      secure.setHttpsConfigurator(new HttpsConfigurator(tls));
      server = secure;
      scheme = "https";
    }
    threads =
        Executors.newCachedThreadPool(
            work -> {
              Thread thread = new Thread(work, "standin");
              thread.setDaemon(true);
              return thread;
            });
    server.setExecutor(threads);
    server.createContext("/", handler);
    server.start();
  }

  String url() {
    return scheme + "://127.0.0.1:" + server.getAddress().getPort();
  }

  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
