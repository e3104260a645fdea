package dev.dusky.warehouses;

import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.io.TempDir;

class H2TamperingTest extends TamperingContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress address() {
    return new WarehouseAddress(
        "jdbc:h2:file:" + folder.resolve("warehouse"), Optional.empty(), Optional.empty());
  }
}
