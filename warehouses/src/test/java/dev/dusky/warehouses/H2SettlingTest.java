package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2SettlingTest extends SettlingContract {

  @TempDir Path folder;

  @Override
  DatabaseSettings freshAddress() {
    return TestH2.address(folder.resolve("fresh"));
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
