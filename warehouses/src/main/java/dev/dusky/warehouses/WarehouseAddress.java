package dev.dusky.warehouses;

import dev.dusky.core.secret.Secret;
import java.util.Optional;

/**
 * Where a warehouse is and how to get in.
 *
 * @param url the JDBC URL, without user and password
 * @param user the user
 * @param password the password
 */
public record WarehouseAddress(String url, Optional<String> user, Optional<Secret> password) {

  /** The address without secrets. */
  @Override
  public String toString() {
    return user.map(name -> url + " as " + name).orElse(url);
  }
}
