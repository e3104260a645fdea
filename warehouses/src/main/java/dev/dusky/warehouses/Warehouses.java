package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;

/** Opens warehouses. To add one, write a {@link Dialect} and name it here. */
public final class Warehouses {

  private Warehouses() {}

  /** Opens the warehouse at that address. */
  public static JdbcWarehouse open(WarehouseAddress address) {
    if (address.url().startsWith("jdbc:postgresql:")) {
      return new JdbcWarehouse(address, new PostgresDialect());
    }
    if (address.url().startsWith("jdbc:h2:")) {
      return new JdbcWarehouse(address, new H2Dialect());
    }
    throw Failure.configuration("warehouse " + address.url() + " is of no known kind")
        .next("Use jdbc:h2:file:… or jdbc:postgresql://…");
  }
}
