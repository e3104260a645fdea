package dev.dusky.standin;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.net.ssl.SSLContext;

/**
 * A small blob service that speaks the part of Azure's protocol that clients of this project use,
 * on the loopback interface until it is closed.
 */
public final class BlobStandIn implements AutoCloseable {

  private final LoopbackServer server;
  private final Faults faults = new Faults();
  private final BlobHandler handler;
  private final BlobAccess access;

  private BlobStandIn(Path folder, String account, String key, SSLContext tls) throws IOException {
    access = new BlobAccess(account, key);
    handler = new BlobHandler(Files.createDirectories(folder), account, access, faults);
    server = new LoopbackServer(handler, 0, tls);
  }

  /**
   * Starts serving on any free port.
   *
   * @param folder where containers are kept
   * @param account the account
   * @param key its key in Base64
   */
  public static BlobStandIn start(Path folder, String account, String key) throws IOException {
    return new BlobStandIn(folder, account, key, null);
  }

  /** Starts serving over TLS, which clients want where they send tokens. */
  public static BlobStandIn start(Path folder, String account, String key, SSLContext tls)
      throws IOException {
    return new BlobStandIn(folder, account, key, tls);
  }

  /** Accepts a bearer token, or the signature of a shared access. */
  public void accept(String token) {
    access.accept(token);
  }

  /** The URL that clients connect to, without the account. */
  public String endpoint() {
    return server.url();
  }

  /** Faults on demand. */
  public Faults faults() {
    return faults;
  }

  /** The bytes of files and blocks that it received. */
  public long received() {
    return handler.received();
  }

  /** Makes a container that lists that many blobs without having them. */
  public void pretend(String container, int blobs) throws IOException {
    handler.pretend(container, blobs);
  }

  /** Stops serving; connections under way are cut. */
  @Override
  public void close() {
    server.close();
  }
}
