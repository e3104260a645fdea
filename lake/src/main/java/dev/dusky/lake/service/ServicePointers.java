package dev.dusky.lake.service;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import dev.dusky.lake.pointer.TablePointers;
import dev.dusky.warehouses.connection.Database;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.iceberg.TableMetadata;

/**
 * The pointers of a catalog that is a service. A transaction works with metadata that only it
 * knows; when it commits, the catalog is asked for the changes. Those who change one table wait for
 * each other by a row of the ledger; engines that are not ours do not.
 */
public final class ServicePointers implements TablePointers {

  private static final TableName INTENT = new TableName("dusky", "intent");

  private final CatalogService service;
  private final Database database;
  private final LedgerConnections connections;
  private final Abandoned abandoned;
  private final Set<TableName> turns = ConcurrentHashMap.newKeySet();
  private volatile boolean ready;

  /** The pointers of that catalog; from now on the database's commits go to it too. */
  public ServicePointers(CatalogService service, Database database) {
    this.service = service;
    this.database = database;
    this.connections = () -> database.dialect().connect(database.settings());
    this.abandoned = new Abandoned(connections, service);
    Publication publication = new Publication(connections, service, abandoned);
    database.wrap(connection -> Working.on(connection, publication));
  }

  @Override
  public boolean exclusive() {
    return false; // the catalog may have views, and tables that this user may not see
  }

  @Override
  public boolean exist(Connection connection) {
    return true;
  }

  @Override
  public void prepare(Connection connection) {}

  @Override
  public Optional<String> find(Connection connection, TableName table, boolean held)
      throws SQLException {
    Optional<Change> change = Working.of(connection).change(table);
    if (change.isPresent()) {
      return change.get().location();
    }
    if (held) {
      take(connection, table);
    }
    return current(connection, table).map(TableMetadata::metadataFileLocation);
  }

  @Override
  public boolean enter(Connection connection, TableName table, String metadata)
      throws SQLException {
    return change(connection, table, Optional.empty(), Optional.of(metadata));
  }

  @Override
  public boolean move(Connection connection, TableName table, String from, String to)
      throws SQLException {
    return change(connection, table, Optional.of(from), Optional.of(to));
  }

  @Override
  public boolean remove(Connection connection, TableName table, String from) throws SQLException {
    return change(connection, table, Optional.of(from), Optional.empty());
  }

  private boolean change(
      Connection connection, TableName table, Optional<String> from, Optional<String> to)
      throws SQLException {
    Working working = Working.of(connection);
    Optional<TableMetadata> base;
    Optional<String> now;
    if (working.change(table).isPresent()) {
      base = working.change(table).get().base();
      now = working.change(table).get().location();
    } else {
      take(connection, table);
      base = current(connection, table);
      now = base.map(TableMetadata::metadataFileLocation);
    }
    if (!now.equals(from)) {
      return false;
    }
    working.put(table, new Change(base, to));
    return true;
  }

  /** The table as the catalog has it, without changes that nobody will commit. */
  private Optional<TableMetadata> current(Connection connection, TableName table)
      throws SQLException {
    ready = ready || database.dialect().exists(connection, INTENT);
    if (ready && !Intents.of(connection, table).isEmpty()) {
      abandoned.settle(table);
    }
    return service.load(table);
  }

  private void take(Connection connection, TableName table) throws SQLException {
    if (!turns.contains(table)) {
      try (Connection own = connections.open()) {
        Intents.turn(own, table);
        own.commit();
      }
      turns.add(table);
    }
    Intents.take(connection, table);
  }

  @Override
  public Map<TableName, String> locations(Connection connection) throws SQLException {
    Map<TableName, String> locations = new TreeMap<>(Comparator.comparing(TableName::toString));
    for (TableName table : service.tables()) {
      try {
        current(connection, table)
            .ifPresent(found -> locations.put(table, found.metadataFileLocation()));
      } catch (Failure e) {
        locations.put(table, e.getMessage()); // that one cannot be read, and says why
      }
    }
    Working.of(connection)
        .changes()
        .forEach(
            (table, change) -> {
              locations.remove(table);
              change.location().ifPresent(at -> locations.put(table, at));
            });
    return locations;
  }
}
