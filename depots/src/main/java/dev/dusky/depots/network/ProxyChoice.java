package dev.dusky.depots.network;

import dev.dusky.depots.address.Network;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Proxy;
import java.net.ProxySelector;
import java.net.SocketAddress;
import java.net.URI;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Chooses the proxy for a host: the one that the depot declares; otherwise that of Java's
 * properties; otherwise that of the environment variables {@code HTTPS_PROXY} or {@code HTTP_PROXY}
 * (also in lower case), except for the hosts of {@code NO_PROXY}.
 */
public final class ProxyChoice extends ProxySelector {

  private final Optional<Network.Proxy> declared;
  private final Map<String, String> environment;

  /** The choice for the connections of a depot. */
  public ProxyChoice(Network network, Map<String, String> environment) {
    this.declared = network.proxy();
    this.environment = environment;
  }

  /** The URL of the proxy for a host; empty if the host is reached directly. */
  public Optional<URI> proxy(URI target) {
    if (declared.isPresent()) {
      return declared.map(Network.Proxy::at);
    }
    for (Proxy each : ProxySelector.getDefault().select(target)) {
      if (each.type() == Proxy.Type.HTTP && each.address() instanceof InetSocketAddress at) {
        return Optional.of(URI.create("http://" + at.getHostString() + ":" + at.getPort()));
      }
    }
    String host = String.valueOf(target.getHost()).toLowerCase(Locale.ROOT);
    return excepted(host)
        ? Optional.empty()
        : variable(target.getScheme() + "_proxy").map(ProxyChoice::url);
  }

  private static URI url(String text) {
    return URI.create(text.contains("://") ? text : "http://" + text);
  }

  private Optional<String> variable(String name) {
    return Optional.ofNullable(environment.get(name.toUpperCase(Locale.ROOT)))
        .or(() -> Optional.ofNullable(environment.get(name)))
        .filter(value -> !value.isBlank());
  }

  private boolean excepted(String host) {
    for (String each : variable("no_proxy").orElse("").toLowerCase(Locale.ROOT).split("[,| ]+")) {
      String name = each.replaceFirst("^\\*?\\.", "");
      if (each.equals("*") || !name.isEmpty() && (host.equals(name) || host.endsWith("." + name))) {
        return true;
      }
    }
    return false;
  }

  @Override
  public List<Proxy> select(URI target) {
    return proxy(target)
        .map(
            at ->
                new Proxy(
                    Proxy.Type.HTTP,
                    new InetSocketAddress(at.getHost(), at.getPort() < 0 ? 80 : at.getPort())))
        .map(List::of)
        .orElse(List.of(Proxy.NO_PROXY));
  }

  @Override
  public void connectFailed(URI target, SocketAddress proxy, IOException e) {
    // The request fails with the same exception, and is reported there.
  }
}
