package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** Embedded databases whose ledger is made already: one is made, the others are copies of it. */
final class TestH2 {

  private static Path made;

  private TestH2() {}

  /** The database of a test's folder; the first to ask for it makes it. */
  static DatabaseSettings in(Path folder) {
    try {
      Path file = folder.resolve("warehouse.mv.db");
      if (!Files.exists(file)) {
        Files.copy(made(), file);
      }
      return address(folder.resolve("warehouse"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** An address of a database that may not be there yet. */
  static DatabaseSettings address(Path database) {
    return new DatabaseSettings("jdbc:h2:file:" + database, Optional.empty(), Optional.empty());
  }

  private static synchronized Path made() throws IOException {
    if (made == null) {
      Path folder = Files.createTempDirectory("dusky-h2-");
      Path file = folder.resolve("made.mv.db");
      file.toFile().deleteOnExit();
      folder.toFile().deleteOnExit();
      try (JdbcWarehouse warehouse =
          (JdbcWarehouse) Warehouses.open(address(folder.resolve("made")))) {
        warehouse.ledger().prepare();
      }
      made = file;
    }
    return made;
  }
}
