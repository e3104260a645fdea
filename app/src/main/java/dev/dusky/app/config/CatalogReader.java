package dev.dusky.app.config;

import dev.dusky.core.secret.Secret;
import dev.dusky.core.warehouse.CatalogSettings;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/** Reads which service has the pointers to tables: its URL, or a block of keys. */
final class CatalogReader {

  private static final Pattern URL = Pattern.compile("https?://[^/@\\s]+(/\\S*)?");

  /** Options of the protocol's client that would be secrets, or that have keys here. */
  private static final Pattern KEPT =
      Pattern.compile(
          "uri|warehouse|(.*[.-])?(token|credential|password|secret|secret-access-key)");

  private final Secrets secrets;

  CatalogReader(Secrets secrets) {
    this.secrets = secrets;
  }

  CatalogSettings read(Section warehouse, Node node) {
    if (node instanceof Node.Scalar) {
      String at = warehouse.text("catalog").orElse("");
      check(warehouse, "catalog", at);
      return CatalogSettings.at(at);
    }
    Section section = warehouse.section("catalog", node);
    String at = section.required("at");
    check(section, "at", at);
    Optional<String> which = section.text("warehouse");
    Optional<Secret> token = secrets.get(section, "token");
    Optional<Secret> client = secrets.get(section, "client");
    Optional<Secret> secret = secrets.get(section, "secret");
    if (client.isPresent() != secret.isPresent()) {
      section.problem(
          client.isPresent() ? "client" : "secret", "client and secret belong together");
    }
    if (token.isPresent() && client.isPresent()) {
      section.problem("token", "give either a token, or client and secret");
    }
    Map<String, String> options =
        OptionsReader.read(
            section,
            name -> !KEPT.matcher(name).matches(),
            "'%s' does not belong here: use the keys at, warehouse, token, client and secret");
    section.done();
    return new CatalogSettings(
        at,
        which,
        token,
        client.flatMap(id -> secret.map(word -> new CatalogSettings.Client(id, word))),
        options);
  }

  private static void check(Section section, String key, String at) {
    if (!at.isEmpty() && !URL.matcher(at).matches()) {
      section.problem(key, "a catalog is a service at https://…, without user or password in it");
    }
  }
}
