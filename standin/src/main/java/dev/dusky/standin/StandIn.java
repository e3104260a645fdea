package dev.dusky.standin;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** The object store, serving on the loopback interface until it is closed. */
public final class StandIn implements AutoCloseable {

  private final HttpServer server;
  private final ExecutorService threads;
  private final Faults faults = new Faults();
  private final RequestHandler handler;

  private StandIn(Path folder, String accessKey, String secretKey, int port) throws IOException {
    System.setProperty("sun.net.httpserver.nodelay", "true");
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 128);
    threads =
        Executors.newCachedThreadPool(
            work -> {
              Thread thread = new Thread(work, "standin");
              thread.setDaemon(true);
              return thread;
            });
    server.setExecutor(threads);
    handler =
        new RequestHandler(
            Files.createDirectories(folder), new SignatureCheck(accessKey, secretKey), faults);
    server.createContext("/", handler);
    server.start();
  }

  /**
   * Starts serving.
   *
   * @param folder where buckets are kept
   * @param port the port, or 0 for any free one
   */
  public static StandIn start(Path folder, String accessKey, String secretKey, int port)
      throws IOException {
    return new StandIn(folder, accessKey, secretKey, port);
  }

  /** The URL that clients connect to. */
  public String endpoint() {
    return "http://127.0.0.1:" + server.getAddress().getPort();
  }

  /** Faults on demand. */
  public Faults faults() {
    return faults;
  }

  /**
   * Makes a bucket that lists that many objects without having them: {@code day/000000000.csv} and
   * so on, of 100 bytes, with the entity tags {@code e0}, {@code e1} and so on.
   */
  public void pretend(String bucket, int objects) throws IOException {
    handler.pretend(bucket, objects);
  }

  /** Stops serving; connections under way are cut. */
  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
