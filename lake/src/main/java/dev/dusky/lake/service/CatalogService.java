package dev.dusky.lake.service;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.RootCause;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.CatalogSettings;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.apache.iceberg.CatalogProperties;
import org.apache.iceberg.HasTableOperations;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Schema;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.catalog.Namespace;
import org.apache.iceberg.catalog.SessionCatalog.SessionContext;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.iceberg.exceptions.AlreadyExistsException;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.apache.iceberg.exceptions.CommitStateUnknownException;
import org.apache.iceberg.exceptions.ForbiddenException;
import org.apache.iceberg.exceptions.NoSuchNamespaceException;
import org.apache.iceberg.exceptions.NoSuchTableException;
import org.apache.iceberg.exceptions.NotAuthorizedException;
import org.apache.iceberg.exceptions.RESTException;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.rest.HTTPClient;
import org.apache.iceberg.rest.RESTSessionCatalog;

/**
 * A client of a catalog with Iceberg's REST protocol. The tables' files are read and written by our
 * own access, whatever credentials the catalog offers.
 */
public final class CatalogService implements AutoCloseable {

  private final CatalogSettings settings;
  private final FileIO files;
  private final SessionContext context = SessionContext.createEmpty();
  private RESTSessionCatalog opened;

  /** A client of that catalog, which is asked when it is first needed. */
  public CatalogService(CatalogSettings settings, FileIO files) {
    this.settings = settings;
    this.files = files;
  }

  FileIO files() {
    return files;
  }

  /** A table's current metadata. */
  Optional<TableMetadata> load(TableName table) {
    return ask(
        "Asking the catalog for " + table,
        () -> {
          try {
            return Optional.of(metadata(catalog().loadTable(context, identifier(table))));
          } catch (NoSuchTableException | NoSuchNamespaceException e) {
            return Optional.empty();
          }
        });
  }

  /** All tables whose names have two parts, in the order of their names. */
  public List<TableName> tables() {
    return ask(
        "Asking the catalog for its tables",
        () -> {
          List<TableName> tables = new ArrayList<>();
          for (Namespace space : catalog().listNamespaces(context, Namespace.empty())) {
            for (TableIdentifier found : catalog().listTables(context, space)) {
              tables.add(new TableName(space.level(0), found.name()));
            }
          }
          tables.sort(Comparator.comparing(TableName::toString));
          return tables;
        });
  }

  /**
   * Makes a table without rows.
   *
   * @param wanted as it is to become: its first schema, partitions, place and properties count
   */
  TableMetadata create(TableName table, TableMetadata wanted) {
    return ask(
        "Creating " + table + " in the catalog",
        () -> {
          Namespace space = Namespace.of(table.schema());
          if (!catalog().namespaceExists(context, space)) {
            try {
              // The library asks this map whether it has null keys, which others refuse.
              catalog().createNamespace(context, space, new HashMap<>());
            } catch (AlreadyExistsException e) {
              return made(table, wanted); // by another process, meanwhile
            }
          }
          return made(table, wanted);
        });
  }

  private TableMetadata made(TableName table, TableMetadata wanted) {
    Schema first = wanted.schemas().get(0);
    PartitionSpec parts = wanted.specs().get(0);
    SortOrder order = wanted.sortOrders().get(0);
    TableMetadata made =
        metadata(
            catalog()
                .buildTable(context, identifier(table), first)
                .withPartitionSpec(parts)
                .withSortOrder(order)
                .withLocation(wanted.location())
                .withProperties(wanted.properties())
                .create());
    if (!made.schema().sameSchema(first) || !made.spec().compatibleWith(parts)) {
      throw Failure.warehouse("Table " + table + " was made otherwise by the catalog than asked")
          .because("it has the columns " + made.schema() + " and the partitions " + made.spec())
          .hint("Look at the catalog's rules for new tables");
    }
    return made;
  }

  /**
   * Changes a table if it is as it was.
   *
   * @param base as it was
   * @param changed built upon that
   * @throws CommitFailedException if others have changed it meanwhile
   */
  void commit(TableName table, TableMetadata base, TableMetadata changed) {
    ask(
        "Changing " + table + " in the catalog",
        () -> {
          operations(catalog().loadTable(context, identifier(table))).commit(base, changed);
          return null;
        });
  }

  /** Drops a table; its files stay. */
  void drop(TableName table) {
    ask("Dropping " + table, () -> catalog().dropTable(context, identifier(table)));
  }

  private synchronized RESTSessionCatalog catalog() {
    if (opened == null) {
      RESTSessionCatalog catalog =
          new RESTSessionCatalog(
              config ->
                  HTTPClient.builder(config)
                      .uri(config.get(CatalogProperties.URI))
                      .withHeaders(Map.of())
                      .build(),
              (session, config) -> files);
      catalog.initialize("dusky", properties());
      opened = catalog;
    }
    return opened;
  }

  private Map<String, String> properties() {
    Map<String, String> properties = new LinkedHashMap<>();
    properties.put("rest.client.connection-timeout-ms", "10000");
    properties.put("rest.client.socket-timeout-ms", "60000");
    properties.putAll(settings.options());
    properties.put(CatalogProperties.URI, settings.at());
    settings.warehouse().ifPresent(w -> properties.put(CatalogProperties.WAREHOUSE_LOCATION, w));
    settings.token().ifPresent(token -> properties.put("token", token.reveal()));
    settings
        .client()
        .ifPresent(c -> properties.put("credential", c.id().reveal() + ":" + c.secret().reveal()));
    return properties;
  }

  private static TableIdentifier identifier(TableName table) {
    return TableIdentifier.of(table.schema(), table.table());
  }

  private static org.apache.iceberg.TableOperations operations(Table table) {
    return ((HasTableOperations) table).operations();
  }

  private static TableMetadata metadata(Table table) {
    return operations(table).current();
  }

  private <T> T ask(String doing, Supplier<T> question) {
    try {
      return question.get();
    } catch (Failure | CommitFailedException e) {
      throw e;
    } catch (CommitStateUnknownException e) {
      throw failure(doing, e)
          .hint(
              "Whether the change came through is looked up, and it is taken back if it did, when"
                  + " the catalog answers; run the command again")
          .from(e);
    } catch (NotAuthorizedException e) {
      throw failure(doing, e)
          .hint("Give a token, or client and secret, that the catalog accepts: warehouse: catalog:")
          .from(e);
    } catch (ForbiddenException e) {
      throw failure(doing, e)
          .hint("Give the catalog's user the right to list, read, create and change these tables")
          .from(e);
    } catch (AlreadyExistsException e) {
      throw failure(doing, e)
          .hint("Another process made it meanwhile; run the command again")
          .from(e);
    } catch (RESTException e) {
      throw failure(doing, e)
          .hint("Look whether the catalog runs and is reachable; nothing was changed")
          .from(e);
    } catch (RuntimeException e) { // of the format's library, by no common type
      throw failure(doing, e).hint("Look at warehouse: catalog: in the configuration").from(e);
    }
  }

  private Failure failure(String doing, RuntimeException e) {
    return Failure.warehouse(doing + " failed")
        .because("the catalog at " + settings.at() + ": " + RootCause.words(e));
  }

  @Override
  public synchronized void close() {
    if (opened != null) {
      try {
        opened.close();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
      opened = null;
    }
  }
}
