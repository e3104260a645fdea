package dev.dusky.depots.address;

import dev.dusky.core.secret.Secret;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;

/**
 * How connections to a depot are made.
 *
 * @param caFile certificates (PEM) of authorities that are trusted besides Java's
 * @param proxy the proxy; if empty, the one of the environment or of Java's properties
 * @param connect the maximum time to connect
 * @param answer the maximum time without a byte of an answer
 * @param knownHosts the SSH servers that are trusted, in OpenSSH's form
 */
public record Network(
    Optional<Path> caFile,
    Optional<Proxy> proxy,
    Duration connect,
    Duration answer,
    Optional<Path> knownHosts) {

  /** The usual time limits, and nothing else. */
  public static final Network USUAL =
      new Network(
          Optional.empty(),
          Optional.empty(),
          Duration.ofSeconds(10),
          Duration.ofSeconds(60),
          Optional.empty());

  /**
   * An HTTP proxy.
   *
   * @param at its URL: scheme, host and port
   * @param login user and password, if it asks for them
   */
  public record Proxy(URI at, Optional<ProxyLogin> login) {}

  /** The login of a proxy. */
  public record ProxyLogin(String user, Secret password) {}
}
