package dev.dusky.warehouses;

import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.io.TempDir;

class H2SettlingTest extends SettlingContract {

  @TempDir Path folder;

  @Override
  WarehouseAddress freshAddress() {
    return new WarehouseAddress(
        "jdbc:h2:file:" + folder.resolve("fresh"), Optional.empty(), Optional.empty());
  }

  @Override
  WarehouseAddress address() {
    return new WarehouseAddress(
        "jdbc:h2:file:" + folder.resolve("warehouse"), Optional.empty(), Optional.empty());
  }
}
