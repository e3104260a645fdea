package dev.dusky.core.warehouse;

import dev.dusky.core.secret.Secret;
import java.util.Map;
import java.util.Optional;

/**
 * A service with Iceberg's REST protocol that has the pointers to tables.
 *
 * @param at its URL
 * @param warehouse which of its warehouses, if it has several
 * @param token what it knows its user by
 * @param client or by what it gives a token to
 * @param options more options of the protocol's client, by their names; none is secret
 */
public record CatalogSettings(
    String at,
    Optional<String> warehouse,
    Optional<Secret> token,
    Optional<Client> client,
    Map<String, String> options) {

  /** The user of a token service (OAuth 2, client credentials). */
  public record Client(Secret id, Secret secret) {}

  /** With a copy of the options. */
  public CatalogSettings {
    options = Map.copyOf(options);
  }

  /** A catalog at that URL that knows its users by nothing. */
  public static CatalogSettings at(String url) {
    return new CatalogSettings(url, Optional.empty(), Optional.empty(), Optional.empty(), Map.of());
  }
}
