package dev.dusky.cli.command;

import dev.dusky.cli.Version;
import dev.dusky.cli.config.Configuration;
import dev.dusky.core.depot.ArchiveDepot;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.depots.Depots;
import dev.dusky.warehouses.JdbcWarehouse;
import dev.dusky.warehouses.MergeStart;
import dev.dusky.warehouses.Warehouses;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

/** A configuration with the warehouse and depots opened as they are needed. */
final class Workspace implements AutoCloseable {

  private final Configuration configuration;
  private final Map<String, Depot> depots = new HashMap<>();
  private JdbcWarehouse warehouse;

  Workspace(Path configFile) {
    this.configuration = Configuration.read(configFile);
  }

  Configuration configuration() {
    return configuration;
  }

  /** The warehouse as it is, its ledger untouched. */
  JdbcWarehouse bareWarehouse() {
    if (warehouse == null) {
      warehouse = Warehouses.open(configuration.warehouse());
    }
    return warehouse;
  }

  /** The warehouse with its ledger made or brought up to date, dead loads closed. */
  JdbcWarehouse warehouse() {
    if (warehouse == null) {
      bareWarehouse().ledger().prepare();
    }
    return warehouse;
  }

  /** Marks loads whose process is gone as interrupted and gives their numbers. */
  List<Long> closeInterrupted() {
    return warehouse().ledger().closeInterrupted();
  }

  Depot depot(String name) {
    return depots.computeIfAbsent(
        name, n -> Depots.open(configuration.depot(n), configuration.base()));
  }

  /** A feed's depot, with archives opened up unless they are workbooks. */
  Depot depot(Feed feed) {
    Depot depot = depot(feed.depot());
    return feed.layout() instanceof WorkbookLayout ? depot : new ArchiveDepot(depot, feed.limits());
  }

  LoadStart start(Feed feed) {
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

  /** What is written down when a merge begins. */
  static MergeStart mergeStart(boolean retry, OptionalLong rehearsed) {
    return new MergeStart(person(), host(), Version.NUMBER, Instant.now(), retry, rehearsed);
  }

  /** Who runs the program. */
  static String person() {
    return System.getProperty("user.name", "unknown");
  }

  private static String host() {
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
