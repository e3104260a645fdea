package dev.dusky.warehouses;

import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2ArrivalTest extends ArrivalContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress address() {
    return TestH2.in(folder);
  }
}
