package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.WarehouseProvider;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.warehouses.h2.BatchWriting;
import dev.dusky.warehouses.h2.H2Dialect;
import java.nio.file.Path;

/** Opens embedded H2 databases. */
public final class H2Provider implements WarehouseProvider {

  private static final String FILE = "jdbc:h2:file:";

  @Override
  public boolean serves(String url) {
    return url.startsWith("jdbc:h2:");
  }

  @Override
  public String form() {
    return "jdbc:h2:file:…";
  }

  @Override
  public String resolve(String url, Path base) {
    return url.startsWith(FILE)
        ? FILE + base.resolve(url.substring(FILE.length())).normalize()
        : url;
  }

  @Override
  public Warehouse open(WarehouseSettings settings) {
    return new JdbcWarehouse((DatabaseSettings) settings, new H2Dialect(), new BatchWriting());
  }
}
