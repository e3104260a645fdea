package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import java.nio.file.Path;
import org.junit.jupiter.api.Disabled;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@Tag("contracts")
class LakeDriftTest extends DriftContract {

  @TempDir Path folder;

  @Test
  @Disabled("decimals of such tables keep their scale")
  @Override
  void typesBecomeWiderWhereThatIsAllowedAndNeverNarrower() {}

  @Override
  boolean ruled() {
    return false;
  }

  @Override
  Warehouse opened() {
    return MirroredLake.in(folder);
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
