package dev.dusky.standin;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The object store, serving on the loopback interface until it is closed. */
public final class StandIn implements AutoCloseable {

  private final LoopbackServer server;
  private final Faults faults = new Faults();
  private final RequestHandler handler;

  private final SignatureCheck keys;

  private StandIn(Path folder, String accessKey, String secretKey, int port) throws IOException {
    keys = new SignatureCheck(accessKey, secretKey);
    handler = new RequestHandler(Files.createDirectories(folder), keys, faults);
    server = new LoopbackServer(handler, port);
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
    return server.url();
  }

  /** Accepts one more key pair; a temporary one needs its session token with each request. */
  public void accept(String accessKey, String secretKey, String sessionToken) {
    keys.accept(accessKey, secretKey, sessionToken);
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
    server.close();
  }
}
