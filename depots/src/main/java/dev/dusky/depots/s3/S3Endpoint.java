package dev.dusky.depots.s3;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import java.net.InetSocketAddress;
import java.net.Proxy;
import java.net.ProxySelector;
import java.net.URI;
import java.net.URISyntaxException;
import java.util.Locale;
import java.util.Optional;
import software.amazon.awssdk.http.urlconnection.ProxyConfiguration;

/**
 * The declared endpoint of a depot, checked before anything is sent to it.
 *
 * @param uri the endpoint's URL
 */
record S3Endpoint(URI uri) {

  private static final String EXAMPLE = "Write it like https://storage.example:9000";

  /** Where Google's storage speaks the S3 protocol, with keys for interoperability. */
  private static final String GOOGLE = "https://storage.googleapis.com";

  /** A host and port to connect to, with the words that name it to people. */
  record Target(String host, int port, String words) {}

  /**
   * The endpoint of an address, if it declares one.
   *
   * @throws Failure of kind CONFIGURATION if the address cannot work
   */
  static Optional<S3Endpoint> of(DepotAddress address, String bucket) {
    return address
        .endpoint()
        .or(() -> address.scheme().equals("gs") ? Optional.of(GOOGLE) : Optional.empty())
        .map(text -> parse(address, bucket, text));
  }

  private static S3Endpoint parse(DepotAddress address, String bucket, String text) {
    String what = "has the endpoint '" + text + "'";
    URI uri;
    try {
      uri = new URI(text);
    } catch (URISyntaxException e) {
      throw wrong(address, what, "that is not a URL: " + e.getReason(), EXAMPLE);
    }
    String scheme = uri.getScheme() == null ? "" : uri.getScheme().toLowerCase(Locale.ROOT);
    if (!scheme.equals("http") && !scheme.equals("https")) {
      throw wrong(address, what, "it does not begin with http:// or https://", EXAMPLE);
    }
    if (uri.getHost() == null) {
      throw wrong(address, what, "it names no host", EXAMPLE);
    }
    if (uri.getRawQuery() != null || uri.getRawFragment() != null || uri.getUserInfo() != null) {
      throw wrong(address, what, "it has more than scheme, host, port and path", EXAMPLE);
    }
    boolean twice =
        !bucket.isEmpty()
            && (uri.getHost().startsWith(bucket + ".")
                || ("/" + uri.getPath() + "/").replaceAll("/+", "/").endsWith("/" + bucket + "/"));
    if (twice) {
      throw wrong(
          address,
          what,
          "it contains the bucket '" + bucket + "', which at: names already",
          "Write the endpoint without the bucket");
    }
    return new S3Endpoint(uri);
  }

  private static Failure wrong(DepotAddress address, String what, String why, String next) {
    return Failure.configuration("Depot " + address.name() + " " + what).because(why).hint(next);
  }

  /** The place that a connection to this endpoint is made to: the endpoint, or the proxy. */
  Target target(ProxyConfiguration proxy) {
    if (proxy.host() != null && !proxy.host().isEmpty() && !direct(proxy)) {
      return new Target(
          proxy.host(), proxy.port(), "proxy %s port %d".formatted(proxy.host(), proxy.port()));
    }
    for (Proxy each : ProxySelector.getDefault().select(uri)) {
      if (each.type() == Proxy.Type.HTTP && each.address() instanceof InetSocketAddress at) {
        return new Target(
            at.getHostString(),
            at.getPort(),
            "proxy %s port %d".formatted(at.getHostString(), at.getPort()));
      }
    }
    int port = uri.getPort() >= 0 ? uri.getPort() : "https".equals(uri.getScheme()) ? 443 : 80;
    return new Target(uri.getHost(), port, "%s port %d".formatted(uri.getHost(), port));
  }

  private boolean direct(ProxyConfiguration proxy) {
    String host = uri.getHost().toLowerCase(Locale.ROOT);
    return proxy.nonProxyHosts().stream().anyMatch(pattern -> host.matches(pattern));
  }

  /** The proxy for requests to this endpoint, from Java's properties or the environment. */
  static ProxyConfiguration proxy(String scheme) {
    return ProxyConfiguration.builder().scheme(scheme).build();
  }
}
