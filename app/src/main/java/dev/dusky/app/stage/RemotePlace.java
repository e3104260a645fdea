package dev.dusky.app.stage;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;

/**
 * A URL, taken apart.
 *
 * @param address the depot that it is read from
 * @param declared the name of that depot, if the configuration declares it
 * @param path the path below the depot, which may be a pattern
 */
record RemotePlace(DepotAddress address, Optional<String> declared, String path) {

  /** Takes a URL apart; the declared depot whose root is the longest has it. */
  static RemotePlace of(String url, Collection<DepotAddress> depots) {
    boolean web = url.startsWith("http");
    int question = web ? url.indexOf('?') : -1;
    String bare = question < 0 ? url : url.substring(0, question);
    Optional<DepotAddress> holder =
        depots.stream()
            .filter(depot -> depot.holds(bare))
            .max(Comparator.comparing(depot -> depot.at().length()));
    if (holder.isPresent() && question < 0) {
      String rest = bare.substring(holder.get().at().replaceFirst("/+$", "").length());
      return new RemotePlace(
          holder.get(), Optional.of(holder.get().name()), path(rest.replaceFirst("^/", ""), web));
    }
    int host = bare.indexOf("://") + 3;
    int star = bare.indexOf('*');
    int end = bare.lastIndexOf('/', star < 0 ? bare.length() : star);
    if (end < host || bare.substring(host, end).isEmpty()) {
      throw Failure.usage("'" + bare + "' names no file")
          .because("it has no path behind its host")
          .hint("Write it like https://host/folder/file.csv, or with a * in quotes");
    }
    String root = root(bare, host, end);
    DepotAddress address =
        DepotAddress.of(bare.substring(host).replaceFirst("[/:].*", ""), root)
            .with(credentials(web, question < 0 ? "" : url.substring(question + 1)));
    return new RemotePlace(
        address,
        Optional.empty(),
        path(bare.substring(root.length()).replaceFirst("^/+", ""), web));
  }

  /** The folder; in an object store the bucket, or account and container, so that any path fits. */
  private static String root(String url, int host, int end) {
    if (!url.matches("(s3|gs|azure)://.*")) {
      return url.substring(0, end);
    }
    int slash = url.indexOf('/', host);
    if (url.startsWith("azure:")) {
      slash = url.indexOf('/', slash + 1);
    }
    return slash < 0 ? url : url.substring(0, slash);
  }

  private static Credentials credentials(boolean web, String query) {
    if (!web) {
      return new Credentials.Usual();
    }
    return query.isEmpty()
        ? new Credentials.Anonymous()
        : new Credentials.SharedAccess(new Secret(() -> query));
  }

  /** Paths in URLs of the web are encoded. */
  private static String path(String text, boolean web) {
    return web ? URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8) : text;
  }

  /** The URL without what may be secret in it. */
  String shown() {
    return address.at().replaceFirst("/+$", "") + "/" + path;
  }
}
