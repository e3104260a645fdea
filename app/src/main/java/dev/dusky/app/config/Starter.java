package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;

/** The commented configuration to start from. */
public final class Starter {

  private Starter() {}

  /** Opens its text. */
  static InputStream open() {
    return Starter.class.getResourceAsStream("starter.yaml");
  }

  /** Writes it to a file that does not exist. */
  public static void write(Path file) throws IOException {
    if (Files.exists(file)) {
      throw Failure.usage(file + " exists already").hint("Name another file with --config FILE");
    }
    try (InputStream in = open()) {
      Files.copy(in, file);
    }
  }
}
