package dev.dusky.lake;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tables.Trial;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.type.LakePartitions;
import dev.dusky.lake.type.LakeSorting;
import dev.dusky.lake.type.LakeTypes;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.merging.NewTable;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Schema;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.apache.iceberg.UpdateSchema;

/** The tables of a catalog, whose changes commit with the entries of a ledger in a database. */
public final class LakeTables implements Tables {

  private final Database database;
  private final Tables ledgerTables;
  private final LakeCatalog catalog;
  private final LakeFailures failures;
  private final LakeAccess access;

  /**
   * The tables of that catalog.
   *
   * @param database the ledger's database
   * @param ledgerTables the tables of that database, which opens transactions for rehearsals
   */
  public LakeTables(Database database, Tables ledgerTables, LakeCatalog catalog) {
    this.database = database;
    this.ledgerTables = ledgerTables;
    this.catalog = catalog;
    this.failures = new LakeFailures(database);
    this.access = new LakeAccess(catalog, failures);
  }

  LakeFailures failures() {
    return failures;
  }

  /** The rows of these tables, counted. */
  LakeLandedTables landed() {
    return new LakeLandedTables(catalog, failures);
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    return database.transact(
        "Reading the columns of " + table,
        h ->
            failures.run(
                "Reading the columns of " + table,
                () ->
                    catalog
                        .table(h.getConnection(), table)
                        .map(t -> LakeTypes.shape(table, t.schema()))));
  }

  @Override
  public void create(TableName table, List<FeedColumn> columns) {
    create(table, columns, Arrangement.NONE);
  }

  @Override
  public void create(Feed feed) {
    create(feed.into(), feed.columns(), feed.policies().arrangement());
  }

  private void create(TableName table, List<FeedColumn> columns, Arrangement arrangement) {
    List<String> unfit = columns.stream().flatMap(c -> LakeTypes.unfit(c).stream()).toList();
    if (!unfit.isEmpty()) {
      throw Failure.warehouse("Table " + table + " cannot be created")
          .because(String.join("; ", unfit))
          .hint("Declare other types");
    }
    Schema schema = LakeTypes.schema(columns);
    create(
        table,
        schema,
        LakePartitions.spec(schema, arrangement.partition()),
        LakeSorting.order(schema, arrangement.sort()));
  }

  /** Creates the target of a merge, unless another process has created it meanwhile. */
  void create(TableName table, NewTable definition) {
    Map<String, SqlType> types = new LinkedHashMap<>();
    for (NewTable.NewColumn column : definition.columns()) {
      types.put(column.name(), column.type().orElse(SqlType.of(TypeKind.TEXT)));
    }
    create(
        table,
        LakeTypes.schema(
            types,
            definition.columns().stream()
                .filter(NewTable.NewColumn::notNull)
                .map(NewTable.NewColumn::name)
                .collect(Collectors.toSet())),
        PartitionSpec.unpartitioned(),
        SortOrder.unsorted());
  }

  /** Gives a table more columns, all of which may be null. */
  void add(TableName table, List<TableColumn> columns) {
    database.transact(
        "Adding columns to " + table,
        h ->
            failures.run(
                "Adding columns to " + table,
                () -> {
                  UpdateSchema update =
                      catalog.table(h.getConnection(), table).orElseThrow().updateSchema();
                  for (TableColumn column : columns) {
                    SqlType type = column.type().orElse(SqlType.of(TypeKind.TEXT));
                    update.addColumn(column.name(), LakeTypes.type(type), type.toString());
                  }
                  update.commit();
                  return null;
                }));
  }

  private void create(TableName table, Schema schema, PartitionSpec partitions, SortOrder order) {
    database.transact(
        "Creating table " + table,
        h -> {
          database.dialect().serialiseMigrations(h.getConnection());
          failures.run(
              "Creating table " + table,
              () ->
                  catalog
                      .table(h.getConnection(), table)
                      .orElseGet(
                          () ->
                              catalog.create(h.getConnection(), table, schema, partitions, order)));
          return null;
        });
  }

  @Override
  public String createStatement(TableName table, List<FeedColumn> columns) {
    CreateStatement statement = new CreateStatement(table);
    columns.forEach(c -> statement.column(c.name(), c.type(), c.notNull()));
    Provenance.COLUMNS.forEach(name -> statement.column(name, SqlType.of(TypeKind.BIGINT), true));
    return statement.toString();
  }

  @Override
  public boolean writable(TableName table) {
    return true;
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return List.of();
  }

  @Override
  public int concurrency(TableName table) {
    return database.dialect().embedded() ? 1 : database.settings().connections();
  }

  @Override
  public String addStatement(TableName table, GrownColumn column) {
    return "alter table %s add column %s %s"
        .formatted(Identifiers.quote(table), Identifiers.quote(column.name()), column.type());
  }

  @Override
  public String widenStatement(TableName table, GrownColumn column) {
    return "alter table %s alter column %s set data type %s"
        .formatted(Identifiers.quote(table), Identifiers.quote(column.name()), column.type());
  }

  @Override
  public String addColumn(Transaction transaction, TableName table, GrownColumn column) {
    alter(
        transaction,
        table,
        update ->
            update.addColumn(
                column.name(), LakeTypes.type(column.type()), column.type().toString()));
    return addStatement(table, column);
  }

  @Override
  public String widenColumn(Transaction transaction, TableName table, GrownColumn column) {
    alter(
        transaction,
        table,
        update -> {
          update.updateColumnDoc(column.name(), column.type().toString());
          update.updateColumn(column.name(), LakeTypes.type(column.type()).asPrimitiveType());
        });
    return widenStatement(table, column);
  }

  private void alter(Transaction transaction, TableName name, Consumer<UpdateSchema> change) {
    Table table = access.table(transaction, name);
    try {
      UpdateSchema update = table.updateSchema();
      change.accept(update);
      failures.run(
          "Changing " + name,
          () -> {
            update.commit();
            return null;
          });
    } catch (IllegalArgumentException e) {
      throw Failure.file("Table " + name + " cannot be extended for the file")
          .because(e.getMessage())
          .hint("Change the table yourself, or let drift capture unknown fields")
          .from(e);
    }
  }

  @Override
  public long takeOut(Transaction transaction, TableName table, long loadId, long fileId) {
    boolean found = shape(table).map(TableShape::hasProvenance).orElse(false);
    return found
        ? failures.run(
            "Removing rows from " + table,
            () -> {
              access.hold(transaction, table);
              return new TakenRows(
                      access.table(transaction, table), List.of(new ProvenanceKey(loadId, fileId)))
                  .takeOut();
            })
        : 0;
  }

  @Override
  public LandingChange change(Transaction transaction, Landing landing, long loadId, long fileId) {
    return new LakeLandingChange(access, transaction, landing, loadId, fileId);
  }

  @Override
  public GroupChange changes(Transaction transaction, Landing landing, long loadId) {
    return new LakeGroupChange(access, transaction, landing, loadId);
  }

  @Override
  public AdoptedRows adopted(Transaction transaction, TableName table) {
    return new LakeAdoptedRows(access, transaction, table);
  }

  @Override
  public FormerRows former() {
    return new LakeFormerRows(database, catalog, access);
  }

  @Override
  public Trial trial() {
    return ledgerTables.trial();
  }
}
