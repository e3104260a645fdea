package dev.dusky.depots.azure;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import java.net.URI;
import java.net.URISyntaxException;

/**
 * The place of a depot in blob storage.
 *
 * @param account the storage account
 * @param container the container
 * @param prefix what the names of the depot's blobs begin with: empty, or ending in a slash
 * @param endpoint the URL of the account's blob service, without a slash at its end
 */
record AzurePlace(String account, String container, String prefix, String endpoint) {

  /**
   * The place that an address declares.
   *
   * @throws Failure of kind CONFIGURATION if it cannot be one
   */
  static AzurePlace of(DepotAddress address) {
    String[] parts = address.at().substring("azure://".length()).split("/", 3);
    if (parts.length < 2 || parts[0].isEmpty() || parts[1].isEmpty()) {
      throw wrong(address, "at: is " + address.at(), "it must name account and container");
    }
    String path = parts.length < 3 ? "" : parts[2].replaceAll("/+$", "");
    return new AzurePlace(
        parts[0], parts[1], path.isEmpty() ? "" : path + "/", endpoint(address, parts[0]));
  }

  private static String endpoint(DepotAddress address, String account) {
    if (address.endpoint().isEmpty()) {
      return "https://" + account + ".blob.core.windows.net";
    }
    String text = address.endpoint().get().replaceAll("/+$", "");
    try {
      URI uri = new URI(text);
      if (uri.getHost() == null || !String.valueOf(uri.getScheme()).matches("https?")) {
        throw wrong(address, "endpoint: is " + text, "it is not a URL of http or https");
      }
      boolean named =
          uri.getHost().startsWith(account + ".") || uri.getPath().endsWith("/" + account);
      return named || !address.pathStyle() ? text : text + "/" + account;
    } catch (URISyntaxException e) {
      throw wrong(address, "endpoint: is " + text, "that is not a URL: " + e.getReason());
    }
  }

  private static Failure wrong(DepotAddress address, String what, String why) {
    return Failure.configuration("Depot " + address.name() + ": " + what)
        .because(why)
        .hint("Write at: azure://account/container/prefix, and endpoint: https://host if needed");
  }
}
