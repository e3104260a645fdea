package dev.dusky.warehouses;

import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2DriftTest extends DriftContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress address() {
    return TestH2.in(folder);
  }
}
