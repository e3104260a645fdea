package dev.dusky.app.config;

import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.Credentials;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Reads how the requests to a depot are authorised. */
final class CredentialsReader {

  /** The sources that are written as one word. */
  private static final Map<String, Credentials> WORDS =
      Map.of(
          "default", new Credentials.Usual(),
          "environment", new Credentials.Environment(),
          "instance", new Credentials.Instance(),
          "web-identity", new Credentials.WebIdentity(),
          "anonymous", new Credentials.Anonymous());

  private static final Set<String> STORES = Set.of("s3", "gs");
  private static final Set<String> AZURE = Set.of("azure");
  private static final Set<String> WEB = Set.of("http", "https");
  private static final Set<String> LOGIN = Set.of("http", "https", "sftp");

  /** The keys of a block, each with the schemes of the places that it is for. */
  private static final Map<String, Set<String>> KEYS =
      Map.of(
          "access-key", STORES,
          "profile", STORES,
          "assume-role", STORES,
          "account-key", AZURE,
          "shared-access", Set.of("azure", "http", "https"),
          "connection-string", AZURE,
          "user", LOGIN,
          "token", WEB);

  private final Section depot;
  private final Secrets secrets;
  private final Path base;

  CredentialsReader(Section depot, Secrets secrets, Path base) {
    this.depot = depot;
    this.secrets = secrets;
    this.base = base;
  }

  /**
   * Reads the keys of the depot, or its block of credentials.
   *
   * @param at the depot's place, which decides what is usual
   */
  Credentials read(String at) {
    String scheme = at.replaceFirst(":.*", "");
    Optional<Node> node = depot.node("credentials");
    Optional<Credentials> keys = keys(depot);
    if (node.isPresent() && keys.isPresent()) {
      depot.problem("credentials", "give either credentials or access-key and secret-key");
    }
    if (node.isEmpty()) {
      return keys.orElse(usual(scheme));
    }
    if (node.get() instanceof Node.Scalar) {
      String word = depot.text("credentials").orElse("");
      Credentials named = WORDS.get(word);
      if (named == null) {
        depot.problem(
            "credentials",
            "credentials cannot be '%s'; write one of %s, or a block of keys"
                .formatted(
                    word, WORDS.keySet().stream().sorted().collect(Collectors.joining(", "))));
      }
      return named == null ? new Credentials.Usual() : named;
    }
    Section section = depot.section("credentials", node.get());
    Credentials read = block(section, scheme).orElse(usual(scheme));
    section.done();
    return read;
  }

  private static Credentials usual(String scheme) {
    return LOGIN.contains(scheme) && !scheme.equals("sftp")
        ? new Credentials.Anonymous()
        : new Credentials.Usual();
  }

  private Optional<Credentials> block(Section section, String scheme) {
    List<String> given = KEYS.keySet().stream().filter(section::has).sorted().toList();
    if (given.size() > 1) {
      section.problem(
          given.get(1), "give one of %s, not several".formatted(String.join(" and ", given)));
    }
    for (String key : given) {
      if (!KEYS.get(key).contains(scheme)) {
        section.problem(
            key,
            "%s is not for %s:, but for %s"
                .formatted(
                    key,
                    scheme,
                    KEYS.get(key).stream().sorted().collect(Collectors.joining(", "))));
      }
    }
    Optional<Credentials> keys = keys(section);
    if (keys.isPresent()) {
      return keys;
    }
    Optional<Credentials> found =
        section
            .text("profile")
            .<Credentials>map(Credentials.Profile::new)
            .or(() -> section.node("assume-role").map(node -> role(section, node)))
            .or(() -> secrets.get(section, "account-key").map(Credentials.AccountKey::new))
            .or(() -> secrets.get(section, "shared-access").map(Credentials.SharedAccess::new))
            .or(() -> secrets.get(section, "connection-string").map(Credentials.Connection::new))
            .or(() -> secrets.get(section, "token").map(Credentials.Bearer::new))
            .or(() -> section.text("user").map(user -> login(section, user)));
    if (found.isEmpty() && given.isEmpty() && !lone(section)) {
      section.problem(
          "",
          "credentials need one of "
              + KEYS.keySet().stream().sorted().collect(Collectors.joining(", ")));
    }
    return found;
  }

  private static boolean lone(Section section) {
    return section.has("secret-key") || section.has("session-token");
  }

  private Optional<Credentials> keys(Section section) {
    Optional<Secret> token = secrets.get(section, "session-token");
    if (token.isPresent() && !section.has("access-key")) {
      section.problem("session-token", "session-token belongs to access-key and secret-key");
    }
    Optional<Secret> access = secrets.get(section, "access-key");
    Optional<Secret> secret = secrets.get(section, "secret-key");
    if (section.has("access-key") != section.has("secret-key")) {
      String there = section.has("access-key") ? "access-key" : "secret-key";
      String missing = there.equals("access-key") ? "secret-key" : "access-key";
      section.problem(
          there, "%s needs %s beside it: requests are signed with both".formatted(there, missing));
    }
    return access.isPresent() && secret.isPresent()
        ? Optional.of(new Credentials.Keys(access.get(), secret.get(), token))
        : Optional.empty();
  }

  private static Credentials role(Section section, Node node) {
    Section role = section.section("assume-role", node);
    Credentials read =
        new Credentials.AssumedRole(
            role.required("role"), role.text("external-id"), role.text("endpoint"));
    role.done();
    return read;
  }

  private Credentials login(Section section, String user) {
    return new Credentials.Login(
        user,
        secrets.get(section, "password"),
        section.text("key-file").map(base::resolve),
        secrets.get(section, "passphrase"));
  }
}
