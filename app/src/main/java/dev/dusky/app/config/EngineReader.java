package dev.dusky.app.config;

import dev.dusky.core.warehouse.EngineSettings;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/** Reads where the engine runs: one text, or a block of keys. */
final class EngineReader {

  private static final Pattern PLACES =
      Pattern.compile("local|local\\[(\\*|\\d+)\\]|(spark|k8s)://.+|yarn");

  private static final Pattern MEMORY = Pattern.compile("\\d+[mg]");

  private final Path base;

  EngineReader(Path file) {
    this.base = file.toAbsolutePath().getParent();
  }

  EngineSettings read(Section warehouse, Node node) {
    if (node instanceof Node.Scalar) {
      String at = warehouse.text("engine").orElse("");
      check(warehouse, "engine", at);
      return EngineSettings.at(at);
    }
    Section section = warehouse.section("engine", node);
    String at = section.required("at");
    check(section, "at", at);
    Optional<Path> home = section.text("home").map(base::resolve);
    String memory = section.text("memory").orElse(EngineSettings.MEMORY);
    if (!MEMORY.matcher(memory).matches()) {
      section.problem("memory", "memory must be a whole number with m or g, such as 2g");
    }
    Map<String, String> options =
        OptionsReader.read(
            section, name -> name.startsWith("spark."), "'%s' is not an option of the engine");
    section.done();
    return new EngineSettings(at, home, memory, options);
  }

  private static void check(Section section, String key, String at) {
    if (!PLACES.matcher(at).matches()) {
      section.problem(
          key,
          "'%s' is not a place for an engine: use local[2], spark://host:port, k8s://… or yarn"
              .formatted(at));
    }
  }
}
