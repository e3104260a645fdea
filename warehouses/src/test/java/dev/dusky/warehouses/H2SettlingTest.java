package dev.dusky.warehouses;

import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2SettlingTest extends SettlingContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress freshAddress() {
    return TestH2.address(folder.resolve("fresh"));
  }

  @Override
  WarehouseAddress address() {
    return TestH2.in(folder);
  }
}
