package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;

/**
 * Resolves secrets, which a configuration may only refer to: {@code env:NAME}, {@code file:PATH}.
 */
public final class Secrets {

  private final Path base;
  private final Map<String, String> environment;

  Secrets(Path base, Map<String, String> environment) {
    this.base = base;
    this.environment = environment;
  }

  /** The secret behind a key of the section; it is fetched when it is needed. */
  Optional<Secret> get(Section section, String key) {
    Optional<String> reference = section.text(key);
    if (reference.isEmpty()) {
      return Optional.empty();
    }
    Optional<Secret> secret = find(reference.get(), "line " + section.line(key) + ": " + key);
    if (secret.isEmpty()) {
      section.problem(
          key, key + " must be env:NAME or file:PATH; secrets do not belong in the configuration");
    }
    return secret;
  }

  /** The secret that an option refers to. */
  public static Secret option(String name, String reference, Path base) {
    return new Secrets(base, System.getenv())
        .find(reference, name)
        .orElseThrow(
            () ->
                Failure.usage(name + " must be env:NAME or file:PATH")
                    .because("secrets do not belong on the command line"));
  }

  private Optional<Secret> find(String reference, String where) {
    if (reference.startsWith("env:")) {
      return Optional.of(new Secret(() -> fromEnvironment(reference.substring(4), where)));
    }
    if (reference.startsWith("file:")) {
      return Optional.of(new Secret(() -> fromFile(base.resolve(reference.substring(5)), where)));
    }
    return Optional.empty();
  }

  private String fromEnvironment(String name, String where) {
    String value = environment.get(name);
    if (value == null) {
      throw Failure.configuration("A secret is missing (" + where + ")")
          .because("the environment variable " + name + " is not set")
          .hint("Set it, then run again");
    }
    return value;
  }

  private static String fromFile(Path file, String where) {
    try {
      return Files.readString(file).strip();
    } catch (IOException e) {
      throw Failure.configuration("A secret is missing (" + where + ")")
          .because("the file " + file + " cannot be read")
          .from(e);
    }
  }
}
