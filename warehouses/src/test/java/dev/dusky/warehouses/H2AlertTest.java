package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2AlertTest extends AlertContract {

  @TempDir Path folder;

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
