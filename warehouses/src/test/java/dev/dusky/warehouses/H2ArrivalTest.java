package dev.dusky.warehouses;

import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.io.TempDir;

class H2ArrivalTest extends ArrivalContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress address() {
    return new WarehouseAddress(
        "jdbc:h2:file:" + folder.resolve("warehouse"), Optional.empty(), Optional.empty());
  }
}
