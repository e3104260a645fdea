package dev.dusky.app.config;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Any text is a configuration, or is said not to be one. */
class ConfigurationFuzzTest {

  private static final Path FILE;

  static {
    try {
      FILE = Files.createTempFile("dusky-fuzz-", ".yaml");
      FILE.toFile().deleteOnExit();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @FuzzTest(maxDuration = "10m")
  void configuration(byte[] bytes) throws IOException {
    Files.write(FILE, bytes);
    try {
      Configuration.read(FILE);
    } catch (Failure expected) {
      // that is the answer
    }
  }
}
