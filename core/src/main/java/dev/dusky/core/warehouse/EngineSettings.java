package dev.dusky.core.warehouse;

import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;

/**
 * The engine that runs SQL over tables in object storage.
 *
 * @param at where it runs: {@code local[*]}, with as many processors as the brackets say, or the
 *     address of a cluster's master
 * @param home the folder that has its libraries below {@code jars}; else the installed one
 * @param memory how much memory its process may use, as Java writes it
 * @param options more options of the engine, by their names
 */
public record EngineSettings(
    String at, Optional<Path> home, String memory, Map<String, String> options) {

  /** The engine's version, without its last part. */
  public static final String VERSION = "3.5";

  /** The memory of a process for which nothing else is set. */
  public static final String MEMORY = "1g";

  /** With a copy of the options. */
  public EngineSettings {
    options = Map.copyOf(options);
  }

  /** An engine at that place with the usual settings. */
  public static EngineSettings at(String at) {
    return new EngineSettings(at, Optional.empty(), MEMORY, Map.of());
  }

  /** The folder that its libraries are installed in, below {@code jars}. */
  public static Path installed() {
    return Path.of(System.getProperty("user.home"), ".dusky", "engine-" + VERSION);
  }

  /** Whether it runs on this machine alone. */
  public boolean local() {
    return at.startsWith("local");
  }
}
