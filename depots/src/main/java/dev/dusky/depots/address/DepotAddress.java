package dev.dusky.depots.address;

import dev.dusky.core.secret.Secret;
import java.util.Optional;

/**
 * Where a depot is and how to get in.
 *
 * @param name the declared name
 * @param at {@code file:DIR}, {@code s3://bucket/prefix}, {@code gs://bucket/prefix}, {@code
 *     azure://account/container/prefix}, {@code https://host/folder} or {@code sftp://host/folder}
 * @param endpoint the store's URL, if it is not the vendor's
 * @param region the S3 region, if it is not that of the environment
 * @param credentials how requests are authorised
 * @param pathStyle whether bucket or account are in the path and not in the host name
 * @param network how connections are made
 * @param storing how files are stored
 */
public record DepotAddress(
    String name,
    String at,
    Optional<String> endpoint,
    Optional<String> region,
    Credentials credentials,
    boolean pathStyle,
    Network network,
    Storing storing) {

  /** A depot with the vendor's endpoint, the usual chain of credentials, and no other wishes. */
  public static DepotAddress of(String name, String at) {
    return new DepotAddress(
        name,
        at,
        Optional.empty(),
        Optional.empty(),
        new Credentials.Usual(),
        at.startsWith("gs:"),
        Network.USUAL,
        Storing.USUAL);
  }

  /** The same depot at another endpoint, which has the bucket in its path. */
  public DepotAddress at(String otherEndpoint) {
    return new DepotAddress(
        name, at, Optional.of(otherEndpoint), region, credentials, true, network, storing);
  }

  /** The same depot with other credentials. */
  public DepotAddress with(Credentials others) {
    return new DepotAddress(name, at, endpoint, region, others, pathStyle, network, storing);
  }

  /** The same depot with other connections. */
  public DepotAddress with(Network other) {
    return new DepotAddress(name, at, endpoint, region, credentials, pathStyle, other, storing);
  }

  /** The same depot with files stored otherwise. */
  public DepotAddress with(Storing other) {
    return new DepotAddress(name, at, endpoint, region, credentials, pathStyle, network, other);
  }

  /** The same depot with a key pair of the S3 protocol. */
  public DepotAddress signed(Secret accessKey, Secret secretKey) {
    return with(new Credentials.Keys(accessKey, secretKey, Optional.empty()));
  }

  /** What it is, as messages begin with it. */
  public String title() {
    return scheme().equals("sqs") ? "The queue of notices" : "Depot " + name;
  }

  /** What comes before the colon of {@link #at}. */
  public String scheme() {
    int colon = at.indexOf(':');
    return colon < 0 ? "" : at.substring(0, colon);
  }

  /** Whether its files are objects, which are whole when they are seen. */
  public boolean objects() {
    return switch (scheme()) {
      case "s3", "gs", "azure" -> true;
      default -> false;
    };
  }

  /** Whether files can be stored there. */
  public boolean writable() {
    return switch (scheme()) {
      case "http", "https", "sftp" -> false;
      default -> true;
    };
  }

  /** Whether a location is this depot's root or below it. */
  public boolean holds(String location) {
    String root = at.replaceFirst("/+$", "");
    return location.equals(root) || location.startsWith(root + "/");
  }

  /** The address without secrets. */
  @Override
  public String toString() {
    return endpoint.map(e -> at + " at " + e).orElse(at);
  }
}
