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
  int files(int usual) {
    return usual > 50 ? usual / 6 : usual / 2;
  }

  @Override
  boolean ruled() {
    return false;
  }

  @Override
  Warehouse opened() {
    return MirroredLake.open(address(), folder.resolve("tables"));
  }

  @Override
  DatabaseSettings address() {
    return TestH2.in(folder);
  }
}
