package dev.dusky.app.config;

import dev.dusky.core.warehouse.LakeSettings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Configurations of tables in a folder. */
final class LakeText {

  private LakeText() {}

  /**
   * Reads one.
   *
   * @param more what follows the first three lines: more keys of the warehouse, then the rest
   */
  static LakeSettings read(Path folder, String more) throws IOException {
    Path file =
        Files.writeString(
            folder.resolve("dusky.yaml"),
            "warehouse:\n  tables: file:./tables\n  ledger: jdbc:h2:file:./ledger\n" + more);
    return (LakeSettings) Configuration.read(file).warehouse();
  }
}
