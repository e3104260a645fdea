package dev.dusky.warehouses;

import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.ResultTaker;
import dev.dusky.core.warehouse.Warehouse;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.lake.TableStatements;
import dev.dusky.lake.file.FolderFiles;
import dev.dusky.lake.pointer.DatabasePointers;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.type.LakeTypes;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.h2.H2Dialect;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.apache.iceberg.Table;
import org.apache.iceberg.UpdateSchema;
import org.apache.iceberg.data.GenericRecord;
import org.apache.iceberg.data.IcebergGenerics;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetWriter;
import org.apache.iceberg.expressions.Expressions;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.parquet.Parquet;
import org.jdbi.v3.core.Handle;

/**
 * Tables in a folder with their ledger in H2, for tests that are written for databases: before a
 * query runs, the tables that it names are copied into the ledger's database.
 */
final class MirroredLake {

  private static final Pattern ALTER =
      Pattern.compile(
          "alter table (\\S+) (?:drop column (\\w+)|alter column (\\w+) set data type (.+))");

  private final Warehouse lake;
  private final DatabaseSettings ledger;
  private final LakeCatalog catalog;

  private MirroredLake(DatabaseSettings ledger, Path folder) {
    String place = "file:" + folder.toAbsolutePath();
    this.ledger = ledger;
    this.catalog =
        new LakeCatalog(
            new DatabasePointers("dusky"), place, new FolderFiles(folder.toAbsolutePath()));
    this.lake =
        Warehouses.open(
            new LakeSettings(place, Optional.empty(), ledger, Optional.empty(), Optional.empty()));
  }

  /** The one of a test's folder. */
  static Warehouse in(Path folder) {
    MirroredLake mirrored = new MirroredLake(TestH2.in(folder), folder.resolve("tables"));
    return (Warehouse)
        Proxy.newProxyInstance(
            Warehouse.class.getClassLoader(),
            new Class<?>[] {Warehouse.class},
            (proxy, method, args) -> {
              if (method.getName().equals("run")) {
                mirrored.run((String) args[0], (ResultTaker) args[1]);
                return null;
              }
              try {
                return method.invoke(mirrored.lake, args);
              } catch (InvocationTargetException e) {
                throw e.getCause();
              }
            });
  }

  private void run(String sql, ResultTaker taker) throws Exception {
    Matcher alter = ALTER.matcher(sql);
    if (sql.startsWith("create ") || sql.startsWith("drop ")) {
      TableStatements.run(lake, sql.replace("create table if not exists", "create table"), taker);
      return;
    }
    try (Database database = new Database(ledger, new H2Dialect());
        Handle handle = database.connect();
        Connection connection = handle.getConnection();
        Statement statement = connection.createStatement()) {
      if (alter.matches()) {
        alter(connection, alter);
        connection.commit();
        return;
      }
      List<TableName> named =
          catalog.locations(connection).keySet().stream()
              .filter(n -> sql.toLowerCase(Locale.ROOT).contains(n.toString()))
              .toList();
      for (TableName name : named) {
        copy(connection, name);
      }
      connection.commit();
      try (Warehouse copies = Warehouses.open(ledger)) {
        copies.run(sql, taker);
      }
      for (TableName name : named) {
        if (!sql.stripLeading().startsWith("select")) {
          copyBack(connection, name);
        }
        statement.execute("drop table " + Identifiers.quote(name));
      }
      connection.commit();
    }
  }

  private void alter(Connection connection, Matcher alter) {
    Table table =
        catalog.table(connection, TableName.parse(alter.group(1)).orElseThrow()).orElseThrow();
    UpdateSchema update = table.updateSchema();
    if (alter.group(2) != null) {
      update.deleteColumn(alter.group(2));
    } else {
      SqlType type = SqlType.parse(alter.group(4)).orElseThrow();
      update.updateColumn(alter.group(3), LakeTypes.type(type).asPrimitiveType());
      update.updateColumnDoc(alter.group(3), type.toString());
    }
    update.commit();
  }

  private void copy(Connection connection, TableName name) throws Exception {
    TableShape shape = lake.tables().shape(name).orElseThrow();
    String columns =
        shape.columns().stream()
            .map(
                c ->
                    Identifiers.quote(c.name())
                        + " "
                        + new H2Dialect().typeName(c.type().orElseThrow()))
            .collect(Collectors.joining(", "));
    try (Statement statement = connection.createStatement()) {
      statement.execute("create schema if not exists " + Identifiers.quote(name.schema()));
      statement.execute("create table %s (%s)".formatted(Identifiers.quote(name), columns));
    }
    String places =
        shape.columns().stream().map(MirroredLake::place).collect(Collectors.joining(", "));
    Table table = catalog.table(connection, name).orElseThrow();
    try (PreparedStatement insert =
            connection.prepareStatement(
                "insert into %s values (%s)".formatted(Identifiers.quote(name), places));
        CloseableIterable<Record> rows = IcebergGenerics.read(table).build()) {
      for (Record row : rows) {
        for (int i = 0; i < shape.columns().size(); i++) { // what deletes need may follow
          Object value = row.get(i);
          insert.setObject(i + 1, value instanceof ByteBuffer bytes ? bytes.array() : value);
        }
        insert.addBatch();
      }
      insert.executeBatch();
    }
  }

  /** Puts what a statement has made of the copy in the place of the table's rows. */
  private void copyBack(Connection connection, TableName name) throws Exception {
    Table table = catalog.table(connection, name).orElseThrow();
    OutputFile out =
        table
            .io()
            .newOutputFile(
                table.locationProvider().newDataLocation(UUID.randomUUID() + ".parquet"));
    DataWriter<Record> writer =
        Parquet.writeData(out)
            .forTable(table)
            .withSpec(table.spec())
            .createWriterFunc(GenericParquetWriter::create)
            .build();
    try (writer;
        Statement statement = connection.createStatement();
        ResultSet rows = statement.executeQuery("select * from " + Identifiers.quote(name))) {
      while (rows.next()) {
        Record row = GenericRecord.create(table.schema());
        for (int i = 0; i < row.size(); i++) {
          row.set(i, rows.getObject(i + 1));
        }
        writer.write(row);
      }
    }
    table
        .newOverwrite()
        .overwriteByRowFilter(Expressions.alwaysTrue())
        .addFile(writer.toDataFile())
        .commit();
  }

  private static String place(TableColumn column) {
    boolean json = column.type().map(t -> t.kind() == TypeKind.JSON).orElse(false);
    return json ? "? format json" : "?";
  }
}
