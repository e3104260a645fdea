package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2SourceTest extends SourceContract {

  @TempDir Path folder;

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }

  @Override
  String bytes() {
    return "varbinary(20)";
  }

  @Override
  String bytes(String hex) {
    return "x'" + hex + "'";
  }
}
