package dev.dusky.core.warehouse;

/** Opens warehouses of one kind. Implementations are found with {@link java.util.ServiceLoader}. */
public interface WarehouseProvider {

  /** Whether this provider opens addresses of that form. */
  boolean serves(String url);

  /** The form of its addresses, for people. */
  String form();

  /** Opens the warehouse. */
  Warehouse open(WarehouseSettings settings);
}
