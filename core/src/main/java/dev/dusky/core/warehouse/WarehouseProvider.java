package dev.dusky.core.warehouse;

import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.DetachedTable;
import java.nio.file.Path;

/** Opens warehouses of one kind. Implementations are found with {@link java.util.ServiceLoader}. */
public interface WarehouseProvider {

  /** Whether this provider opens addresses of that form. */
  boolean serves(String url);

  /** The form of its addresses, for people. */
  String form();

  /** The address with a relative path in it resolved against a directory. */
  default String resolve(String url, Path base) {
    return url;
  }

  /**
   * Opens a landing table without its ledger.
   *
   * @param described what {@link dev.dusky.core.tables.AdoptedRows#table} says
   */
  default DetachedTable detached(WarehouseSettings settings, TableName table, String described) {
    throw new IllegalStateException("such tables are in a database");
  }

  /** Opens the warehouse. */
  Warehouse open(WarehouseSettings settings);
}
