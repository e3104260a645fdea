package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class H2WarehouseTest extends WarehouseContract {

  @TempDir Path folder;

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }

  @Test
  void aWrongPasswordIsToldAsSuch() {
    DatabaseSettings wrong =
        new DatabaseSettings(
            address().url(), Optional.of("dusky"), Optional.of(new Secret(() -> "hush")));
    Failure failure = assertThrows(Failure.class, () -> Warehouses.open(wrong));
    assertTrue(failure.getMessage().contains("refuses this user"), failure.getMessage());
    assertTrue(!failure.getMessage().contains("hush"));
  }

  @Test
  void aFileThatIsNoDatabaseIsToldAsSuch() throws Exception {
    Path file = folder.resolve("other.mv.db");
    Files.writeString(file, "this is not a database".repeat(1000));
    DatabaseSettings address = TestH2.address(folder.resolve("other"));
    Failure failure = assertThrows(Failure.class, () -> Warehouses.open(address));
    assertEquals(Failure.Kind.WAREHOUSE, failure.kind());
  }

  @Test
  void namesFoldToLowerCaseAsTheyAreWritten() {
    query("create table PUBLIC.Mixed (Id bigint)");
    assertTrue(
        warehouse()
            .tables()
            .shape(new dev.dusky.core.table.TableName("public", "mixed"))
            .isPresent());
  }
}
