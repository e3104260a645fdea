package dev.dusky.depots.web;

import dev.dusky.core.failure.Failure;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * URLs below the root of a depot.
 *
 * @param root the root, ending in a slash
 * @param query what each URL ends with, such as a signature; secret
 */
record WebAddress(URI root, Optional<String> query) {

  /** The URL of a path below the root. */
  URI of(String path) {
    StringBuilder encoded = new StringBuilder(root.toString());
    String separator = "";
    for (String name : path.split("/", -1)) {
      if (name.equals(".") || name.equals("..")) {
        throw Failure.depot("'" + path + "' is not a path below " + root)
            .because("a web server resolves . and .. in it")
            .hint("Name the file by the path that leads to it");
      }
      encoded
          .append(separator)
          .append(URLEncoder.encode(name, StandardCharsets.UTF_8).replace("+", "%20"));
      separator = "/";
    }
    query.ifPresent(q -> encoded.append('?').append(q));
    return URI.create(encoded.toString());
  }

  /** A URL without its query, which may be a secret. */
  static String shown(URI uri) {
    return uri.toString().replaceFirst("[?].*", "");
  }
}
