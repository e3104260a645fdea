package dev.dusky.warehouses;

import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.WarehouseProvider;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.warehouses.postgres.CopyWriting;
import dev.dusky.warehouses.postgres.PostgresDialect;

/** Opens PostgreSQL databases. */
public final class PostgresProvider implements WarehouseProvider {

  @Override
  public boolean serves(String url) {
    return url.startsWith("jdbc:postgresql:");
  }

  @Override
  public String form() {
    return "jdbc:postgresql://…";
  }

  @Override
  public Warehouse open(WarehouseSettings settings) {
    return new JdbcWarehouse((DatabaseSettings) settings, new PostgresDialect(), new CopyWriting());
  }
}
