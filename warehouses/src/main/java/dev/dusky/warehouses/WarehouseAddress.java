package dev.dusky.warehouses;

import dev.dusky.core.secret.Secret;
import java.util.Optional;

/**
 * Where a warehouse is and how to get in.
 *
 * @param url the JDBC URL, without user and password
 * @param user the user
 * @param password the password
 * @param connections how many files of one load may be written at the same time, each on its own
 */
public record WarehouseAddress(
    String url, Optional<String> user, Optional<Secret> password, int connections) {

  /** The default for {@link #connections}. */
  public static final int DEFAULT_CONNECTIONS = 4;

  /** An address with the usual number of connections. */
  public WarehouseAddress(String url, Optional<String> user, Optional<Secret> password) {
    this(url, user, password, DEFAULT_CONNECTIONS);
  }

  /** The address without secrets. */
  @Override
  public String toString() {
    return user.map(name -> url + " as " + name).orElse(url);
  }
}
