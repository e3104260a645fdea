package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import org.junit.jupiter.api.Disabled;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

@Tag("engine")
class LakeMergeCasesTest extends MergeCasesContract {

  @Override
  Warehouse opened() throws Exception {
    return OneLake.open();
  }

  @Override
  DatabaseSettings address() {
    throw new IllegalStateException("the warehouse is opened already");
  }

  @Test
  @Disabled("such tables have no index")
  @Override
  void largeTablesWithoutAnIndexAreNamed() {}
}
