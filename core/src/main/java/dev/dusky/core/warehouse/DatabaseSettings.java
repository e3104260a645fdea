package dev.dusky.core.warehouse;

import dev.dusky.core.secret.Secret;
import java.util.Optional;

/**
 * A warehouse that is one database, ledger and tables together.
 *
 * @param url the JDBC URL, without user and password
 * @param user the user
 * @param password the password
 * @param connections how many files of one load may be written at the same time, 1 to 64
 */
public record DatabaseSettings(
    String url, Optional<String> user, Optional<Secret> password, int connections)
    implements WarehouseSettings {

  /** The default for {@link #connections}. */
  public static final int DEFAULT_CONNECTIONS = 4;

  /** Settings with the default number of connections. */
  public DatabaseSettings(String url, Optional<String> user, Optional<Secret> password) {
    this(url, user, password, DEFAULT_CONNECTIONS);
  }

  /** The address without secrets. */
  @Override
  public String toString() {
    return user.map(name -> url + " as " + name).orElse(url);
  }
}
