package dev.dusky.lake.pointer;

import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.apache.iceberg.BaseTable;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Schema;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.io.FileIO;

/** The tables below one place, found by their pointers. */
public final class LakeCatalog {

  private static final Map<String, String> PROPERTIES =
      Map.of(
          "format-version", "2",
          "write.metadata.compression-codec", "gzip",
          // Old metadata must stay while a transaction that replaces it may be rolled back.
          "write.metadata.delete-after-commit.enabled", "false",
          "commit.retry.num-retries", "8",
          "commit.retry.min-wait-ms", "1",
          "commit.retry.max-wait-ms", "50");

  private final TablePointers pointers;
  private final String place;
  private final FileIO files;
  private volatile boolean known;

  /**
   * A catalog.
   *
   * @param pointers where each table's metadata is
   * @param place the folder or prefix of all tables, without a slash at its end
   */
  public LakeCatalog(TablePointers pointers, String place, FileIO files) {
    this.pointers = pointers;
    this.place = place;
    this.files = files;
  }

  /** Whether nothing but its tables is at their place. */
  public boolean exclusive() {
    return pointers.exclusive();
  }

  /** The files of its tables. */
  public FileIO files() {
    return files;
  }

  /** A table whose changes belong to the connection's transaction; empty if it does not exist. */
  public Optional<Table> table(Connection connection, TableName name) {
    if (!known(connection)) {
      return Optional.empty();
    }
    PointerOperations operations = new PointerOperations(pointers, connection, name, files);
    return operations.refresh() == null
        ? Optional.empty()
        : Optional.of(new BaseTable(operations, name.toString()));
  }

  private boolean known(Connection connection) {
    try {
      known = known || pointers.exist(connection);
      return known;
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
  }

  /** Where the metadata of each table is. */
  public Map<TableName, String> locations(Connection connection) {
    try {
      return known(connection) ? pointers.locations(connection) : Map.of();
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
  }

  /**
   * Moves a table's pointer in the connection's transaction, enters it or removes it.
   *
   * @param from where it must lead; nowhere for a table that is new
   * @param to where it leads then; nowhere for a table that is dropped
   * @return false if it does not lead there any more
   */
  public boolean move(
      Connection connection, TableName name, Optional<String> from, Optional<String> to) {
    try {
      if (from.isEmpty()) {
        pointers.prepare(connection);
        return pointers.enter(connection, name, to.orElseThrow());
      }
      return to.isEmpty()
          ? pointers.remove(connection, name, from.get())
          : pointers.move(connection, name, from.get(), to.get());
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
  }

  /** Makes others wait that change a table, until the connection's transaction ends. */
  public void hold(Connection connection, TableName name) {
    try {
      pointers.find(connection, name, true);
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
  }

  /**
   * Creates a table in the connection's transaction, and the catalog's tables if it is the first.
   */
  public Table create(
      Connection connection,
      TableName name,
      Schema schema,
      PartitionSpec partitions,
      SortOrder order) {
    try {
      pointers.prepare(connection);
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
    PointerOperations operations = new PointerOperations(pointers, connection, name, files);
    TableMetadata metadata =
        TableMetadata.newTableMetadata(
            schema,
            partitions,
            order,
            "%s/%s/%s-%s".formatted(place, name.schema(), name.table(), UUID.randomUUID()),
            properties(schema, partitions));
    operations.commit(null, metadata);
    return new BaseTable(operations, name.toString());
  }

  private static Map<String, String> properties(Schema schema, PartitionSpec partitions) {
    Map<String, String> properties = new HashMap<>(PROPERTIES);
    // A group of rows is in memory while it is written, one for each partition, and a page.
    boolean divided = partitions.isPartitioned();
    properties.put(
        "write.parquet.row-group-size-bytes", Integer.toString(divided ? 8 << 20 : 32 << 20));
    if (divided) {
      properties.put("write.parquet.page-size-bytes", Integer.toString(256 << 10));
    }
    // What a reversal looks for must be in the statistics of every data file.
    for (String name : List.of(Provenance.LOAD, Provenance.FILE)) {
      if (schema.findField(name) != null) {
        properties.put("write.metadata.metrics.column." + name, "full");
      }
    }
    return properties;
  }
}
