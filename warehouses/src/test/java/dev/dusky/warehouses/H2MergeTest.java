package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

class H2MergeTest extends MergeContract {

  @TempDir Path folder;

  @Override
  int rounds(int usual) {
    return (usual + 1) / 2;
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
