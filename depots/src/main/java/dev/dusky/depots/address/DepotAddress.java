package dev.dusky.depots;

import dev.dusky.core.secret.Secret;
import java.util.Optional;

/**
 * Where a depot is and how to get in.
 *
 * @param name the declared name
 * @param at {@code file:DIR} or {@code s3://bucket/prefix}
 * @param endpoint the S3 endpoint's URL, if it is not the region's own
 * @param region the S3 region
 * @param accessKey the access key
 * @param secretKey the secret key
 * @param pathStyle whether the bucket is in the path and not in the host name
 */
public record DepotAddress(
    String name,
    String at,
    Optional<String> endpoint,
    String region,
    Optional<Secret> accessKey,
    Optional<Secret> secretKey,
    boolean pathStyle) {

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
