package dev.dusky.app.workspace;

import dev.dusky.app.config.Configuration;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.StoreOrder;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.depots.Depots;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.concurrent.ConcurrentHashMap;

/** A configuration with the warehouse and depots opened as they are needed. */
public final class Workspace implements AutoCloseable {

  private final Configuration configuration;
  private final Map<String, Depot> depots = new ConcurrentHashMap<>();
  private Warehouse warehouse;
  private boolean prepared;

  /** Reads the configuration; nothing is opened yet. */
  public Workspace(Path configFile) {
    this.configuration = Configuration.read(configFile);
  }

  /** A workspace of a configuration that is read already. */
  public Workspace(Configuration configuration) {
    this.configuration = configuration;
  }

  /** A landing table without the ledger, as the engine's machines write into it. */
  public DetachedTable detached(Feed feed, String described) {
    return Warehouses.detached(opened(configuration.warehouse()), feed.into(), described);
  }

  /** The configuration. */
  public Configuration configuration() {
    return configuration;
  }

  /** The warehouse as it is, its ledger untouched. */
  public synchronized Warehouse bareWarehouse() {
    if (warehouse == null) {
      warehouse = Warehouses.open(opened(configuration.warehouse()));
    }
    return warehouse;
  }

  /** The settings with the depot opened that the tables are in, if they are in one. */
  private WarehouseSettings opened(WarehouseSettings settings) {
    return settings instanceof LakeSettings lake
        ? configuration.depots().values().stream()
            .filter(address -> address.holds(lake.place()))
            .findFirst()
            .<WarehouseSettings>map(
                address ->
                    lake.with(
                        new LakeSettings.Store(
                            address.at(), depot(address.name()), order(address.name()))))
            .orElse(lake)
        : settings;
  }

  private StoreOrder order(String depot) {
    return new StoreOrder(
        StoreWorker.class.getName(),
        configuration.text(),
        configuration.file().toAbsolutePath().toString(),
        depot);
  }

  /** The warehouse with its ledger made or brought up to date, dead loads closed. */
  public synchronized Warehouse warehouse() {
    if (!prepared) {
      bareWarehouse().ledger().prepare();
      prepared = true;
    }
    return warehouse;
  }

  /** Marks loads whose process is gone as interrupted and gives their numbers. */
  public List<Long> closeInterrupted() {
    return warehouse().ledger().closeInterrupted();
  }

  /** Closes an embedded warehouse until it is needed again, so that others can use it. */
  public synchronized void rest() {
    if (warehouse != null && warehouse.embedded()) {
      warehouse.rest();
    }
  }

  /** A depot by its name. */
  public Depot depot(String name) {
    return depots.computeIfAbsent(
        name, n -> Depots.open(configuration.depot(n), configuration.base()));
  }

  /** A feed's depot, with archives opened up unless they are workbooks. */
  public Depot depot(Feed feed) {
    Depot depot = depot(feed.depot());
    return feed.layout() instanceof WorkbookLayout ? depot : new ArchiveDepot(depot, feed.limits());
  }

  /** The entry of a load that begins now. */
  public LoadStart start(Feed feed) {
    return new LoadStart(
        LoadKind.LOAD,
        feed.name(),
        feed.into().toString(),
        feed.toString(),
        person(),
        host(),
        Version.NUMBER,
        Instant.now());
  }

  /** The entry of a merge that begins now. */
  public static MergeStart mergeStart(boolean retry, OptionalLong rehearsed) {
    return new MergeStart(person(), host(), Version.NUMBER, Instant.now(), retry, rehearsed);
  }

  /** Who runs the program. */
  public static String person() {
    return System.getProperty("user.name", "unknown");
  }

  /** On which machine. */
  public static String host() {
    try {
      return InetAddress.getLocalHost().getHostName();
    } catch (UnknownHostException e) {
      return "unknown"; // a machine without a name can load all the same
    }
  }

  @Override
  public void close() {
    depots.values().forEach(Depot::close);
    if (warehouse != null) {
      warehouse.close();
    }
  }
}
