package dev.dusky.app.config;

import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.address.Storing;
import dev.dusky.depots.queue.QueueAddress;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Reads the declaration of a depot. */
final class DepotReader {

  /** The form of places. */
  private static final String FORM =
      "file:.*|(s3|gs)://[^/]+(/.*)?|azure://[^/]+/[^/]+(/.*)?|https?://[^/?#]+(/[^?#]*)?"
          + "|sftp://[^/?#]+(/.*)?";

  private static final Duration LONGEST = Duration.ofMinutes(30);
  private static final long LEAST_PART = 5L << 20;
  private static final long MOST_PART = 4L << 30;
  private static final int MOST_TAGS = 10;

  private final ConfigProblems problems;
  private final Secrets secrets;
  private final Path base;

  DepotReader(ConfigProblems problems, Secrets secrets, Path base) {
    this.problems = problems;
    this.secrets = secrets;
    this.base = base;
  }

  DepotAddress read(String name, Node node) {
    if (node instanceof Node.Scalar scalar && scalar.text() != null) {
      return DepotAddress.of(name, scalar.text());
    }
    Section section = new Section("depot " + name, node, problems);
    String at = section.required("at");
    if (!at.isEmpty() && !at.matches(FORM)) {
      section.problem("at", "at must be " + Depots.FORMS);
    }
    DepotAddress address =
        new DepotAddress(
            name,
            at,
            section.text("endpoint"),
            section.text("region"),
            new CredentialsReader(section, secrets, base).read(at),
            section.flag("path-style", section.has("endpoint") || at.startsWith("gs:")),
            network(section),
            storing(section));
    section.done();
    return address;
  }

  /** Reads the declaration of a queue: its place, and what a depot of the S3 protocol has. */
  QueueAddress queue(Section section) {
    String at = section.required("queue");
    if (!at.isEmpty() && !at.matches("sqs://[^/]+/.+")) {
      section.problem(
          "queue",
          "queue must be sqs:// with host and path of the queue's URL: sqs://host/account/name");
    }
    DepotAddress access =
        new DepotAddress(
            "notices",
            at,
            section.text("endpoint"),
            section.text("region"),
            new CredentialsReader(section, secrets, base).read("s3://queue"),
            true,
            network(section),
            Storing.USUAL);
    section.done();
    return new QueueAddress(access);
  }

  private Network network(Section section) {
    return new Network(
        section.text("ca-file").map(base::resolve),
        section.node("proxy").flatMap(node -> proxy(section, node)),
        time(section, "connect-timeout", Network.USUAL.connect()),
        time(section, "answer-timeout", Network.USUAL.answer()),
        section.text("known-hosts").map(base::resolve));
  }

  private static Duration time(Section section, String key, Duration otherwise) {
    Optional<String> text = section.text(key);
    Optional<Duration> time =
        text.flatMap(DurationText::parse)
            .filter(t -> t.compareTo(Duration.ofSeconds(1)) >= 0 && t.compareTo(LONGEST) <= 0);
    if (text.isPresent() && time.isEmpty()) {
      section.problem(
          key, "%s cannot be '%s'; write a time from 1 s to 30 min".formatted(key, text.get()));
    }
    return time.orElse(otherwise);
  }

  private Optional<Network.Proxy> proxy(Section depot, Node node) {
    if (node instanceof Node.Scalar scalar && scalar.text() != null) {
      return proxyUrl(depot, "proxy", scalar.text())
          .map(at -> new Network.Proxy(at, Optional.empty()));
    }
    Section section = depot.section("proxy", node);
    Optional<URI> at = proxyUrl(section, "at", section.required("at"));
    Optional<String> user = section.text("user");
    Optional<Secret> password = secrets.get(section, "password");
    if (section.has("user") != section.has("password")) {
      section.problem("", "a proxy's login needs both user and password");
    }
    Optional<Network.ProxyLogin> login =
        user.isPresent() && password.isPresent()
            ? Optional.of(new Network.ProxyLogin(user.get(), password.get()))
            : Optional.empty();
    section.done();
    return at.map(url -> new Network.Proxy(url, login));
  }

  private static Optional<URI> proxyUrl(Section section, String key, String text) {
    try {
      URI uri = URI.create(text);
      if (uri.getHost() != null && uri.getPort() > 0 && uri.getUserInfo() == null) {
        return Optional.of(uri);
      }
    } catch (IllegalArgumentException e) {
      // What is not a URL is reported below, like one that lacks something.
    }
    section.problem(
        key,
        "'%s' is not a proxy: write http://host:port; user and password are keys".formatted(text));
    return Optional.empty();
  }

  private Storing storing(Section section) {
    Optional<String> text = section.text("part-size");
    Optional<Long> partSize =
        text.flatMap(SizeText::parse).filter(size -> size >= LEAST_PART && size <= MOST_PART);
    if (text.isPresent() && partSize.isEmpty()) {
      section.problem(
          "part-size", "part-size cannot be '%s'; write 6MB to 4000MB".formatted(text.get()));
    }
    return new Storing(
        partSize,
        section.node("encryption").map(node -> encryption(section, node)),
        section.text("storage-class"),
        tags(section),
        section.flag("requester-pays", false));
  }

  /** {@code store} for the store's own key, or a block that names a key. */
  private static Storing.Encryption encryption(Section depot, Node node) {
    if (node instanceof Node.Scalar) {
      if (!depot.text("encryption").orElse("").equals("store")) {
        depot.problem("encryption", "encryption must be store, or { key: IDENTIFIER }");
      }
      return new Storing.Encryption(Optional.empty());
    }
    Section section = depot.section("encryption", node);
    String key = section.required("key");
    section.done();
    return new Storing.Encryption(Optional.of(key));
  }

  private Map<String, String> tags(Section section) {
    Map<String, String> tags = new LinkedHashMap<>();
    section
        .children("tags")
        .forEach(
            (name, node) -> {
              if (node instanceof Node.Scalar scalar && scalar.text() != null) {
                tags.put(name, scalar.text());
              } else {
                problems.add(node.line(), "tag " + name + " must be a single value");
              }
            });
    if (tags.size() > MOST_TAGS) {
      section.problem("tags", "stores keep at most " + MOST_TAGS + " tags for a file");
    }
    return tags;
  }
}
