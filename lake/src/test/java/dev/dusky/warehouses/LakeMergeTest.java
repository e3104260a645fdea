package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import org.junit.jupiter.api.Tag;

@Tag("contracts")
class LakeMergeTest extends MergeContract {

  @Override
  int rounds(int usual) {
    return usual / 3;
  }

  @Override
  Warehouse opened() throws Exception {
    return OneLake.open();
  }

  @Override
  DatabaseSettings address() {
    throw new IllegalStateException("the warehouse is opened already");
  }
}
