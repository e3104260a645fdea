package dev.dusky.core.warehouse;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.StoreOrder;
import java.util.Optional;

/**
 * A warehouse whose tables are in a folder or an object store, and whose ledger is in a database.
 *
 * @param place where the tables are: {@code file:/data/tables}, or {@code s3://bucket/prefix} below
 *     a declared depot
 * @param store the opened depot, unless the place is a folder
 * @param ledger the database of the ledger
 * @param engine the engine that runs SQL over the tables, if one is declared
 * @param catalog the service that has the tables' pointers; else the ledger's database has them
 */
public record LakeSettings(
    String place,
    Optional<Store> store,
    DatabaseSettings ledger,
    Optional<EngineSettings> engine,
    Optional<CatalogSettings> catalog)
    implements WarehouseSettings {

  /**
   * A depot that tables are in.
   *
   * @param at the location of its root
   * @param depot the depot
   * @param elsewhere how the engine's machines reach it
   */
  public record Store(String at, Depot depot, StoreOrder elsewhere) {}

  /** The same with the depot opened. */
  public LakeSettings with(Store opened) {
    return new LakeSettings(place, Optional.of(opened), ledger, engine, catalog);
  }

  @Override
  public String url() {
    return place;
  }

  /** The address without secrets. */
  @Override
  public String toString() {
    return place
        + catalog.map(c -> " of the catalog " + c.at()).orElse("")
        + " with its ledger in "
        + ledger;
  }
}
