package dev.dusky.lake;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.WarehouseProvider;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.lake.engine.Engine;
import dev.dusky.lake.engine.EngineLaunch;
import dev.dusky.lake.engine.EngineSessions;
import dev.dusky.lake.file.DepotFiles;
import dev.dusky.lake.file.FolderFiles;
import dev.dusky.lake.pointer.DatabasePointers;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.pointer.TablePointers;
import dev.dusky.lake.service.CatalogService;
import dev.dusky.lake.service.ServicePointers;
import dev.dusky.warehouses.JdbcWarehouse;
import java.nio.file.Path;
import java.util.Optional;
import org.apache.iceberg.io.FileIO;

/** Opens warehouses whose tables are in a folder or an object store. */
public final class LakeProvider implements WarehouseProvider {

  /** The name that other engines know the catalog by. */
  static final String CATALOG = "dusky";

  private static final String FOLDER = "file:";

  private static final String STORE = "s3://";

  @Override
  public boolean serves(String url) {
    return url.startsWith(FOLDER) || url.startsWith(STORE);
  }

  @Override
  public String form() {
    return "tables: file:… or s3://… with a ledger";
  }

  @Override
  public String resolve(String url, Path base) {
    return url.startsWith(FOLDER)
        ? FOLDER + base.resolve(url.substring(FOLDER.length())).normalize()
        : url.replaceFirst("/+$", "");
  }

  @Override
  public Warehouse open(WarehouseSettings settings) {
    if (!(settings instanceof LakeSettings lake)) {
      throw Failure.configuration("Tables at " + settings.url() + " need a ledger")
          .hint("Write warehouse: { tables: \"%s\", ledger: jdbc:… }".formatted(settings.url()));
    }
    FileIO files = files(lake);
    JdbcWarehouse ledger = (JdbcWarehouse) Warehouses.open(lake.ledger());
    Optional<CatalogService> service = lake.catalog().map(c -> new CatalogService(c, files));
    TablePointers pointers =
        service
            .<TablePointers>map(s -> new ServicePointers(s, ledger.database()))
            .orElseGet(() -> new DatabasePointers(CATALOG));
    LakeCatalog catalog = new LakeCatalog(pointers, lake.place(), files);
    Optional<EngineSessions> engine =
        lake.engine()
            .map(
                at ->
                    new EngineSessions(
                        new Engine(at, new EngineLaunch(lake.place()), lake.store()), catalog));
    return new LakeWarehouse(lake, ledger, catalog, engine, service);
  }

  @Override
  public DetachedTable detached(WarehouseSettings settings, TableName table, String described) {
    return new DetachedLakeTable(files((LakeSettings) settings), table, described);
  }

  private static FileIO files(LakeSettings lake) {
    if (lake.place().startsWith(FOLDER)) {
      return new FolderFiles(Path.of(lake.place().substring(FOLDER.length())));
    }
    LakeSettings.Store store = lake.store().orElseThrow();
    return new DepotFiles(store.depot(), store.at());
  }
}
