package dev.dusky.depots.sftp;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.net.URI;
import java.util.Arrays;

/**
 * The place of a depot on an SFTP server.
 *
 * @param user who logs in
 * @param host the server
 * @param port its port
 * @param root the folder, absolute, without a slash at its end
 */
record SftpAddress(String user, String host, int port, String root) {

  private static final int PORT = 22;

  /**
   * The place that an address declares.
   *
   * @throws Failure of kind CONFIGURATION if it cannot be one
   */
  static SftpAddress of(DepotAddress address) {
    URI uri;
    try {
      uri = URI.create(address.at().replace(" ", "%20"));
    } catch (IllegalArgumentException e) {
      throw wrong(address, "that is not a URL");
    }
    if (uri.getHost() == null) {
      throw wrong(address, "it names no host");
    }
    String named = uri.getUserInfo();
    if (named != null && named.contains(":")) {
      throw wrong(address, "a password does not belong there");
    }
    String user =
        address.credentials() instanceof Credentials.Login login
            ? login.user()
            : named == null ? System.getProperty("user.name") : named;
    return new SftpAddress(
        user,
        uri.getHost(),
        uri.getPort() < 0 ? PORT : uri.getPort(),
        String.valueOf(uri.getPath()).replaceFirst("/+$", ""));
  }

  private static Failure wrong(DepotAddress address, String why) {
    return Failure.configuration("Depot " + address.name() + " has an address that cannot be used")
        .because(why)
        .hint(
            "Write at: sftp://host/folder, or sftp://user@host:port/folder; password: and"
                + " key-file: belong under credentials:");
  }

  /** The absolute path of a file of the depot. */
  String of(String path) {
    if (Arrays.asList(path.split("/", -1)).contains("..")) {
      throw Failure.depot("'" + path + "' is not a path below " + root)
          .because("it has .. in it")
          .hint("Name the file by the path that leads to it");
    }
    return root + "/" + path;
  }
}
