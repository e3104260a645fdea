package dev.dusky.lake;

import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.lake.engine.EngineRefusal;
import dev.dusky.lake.engine.EngineSessions;
import dev.dusky.lake.engine.EngineTurn;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.merging.MergeTables;
import dev.dusky.warehouses.merging.MergeWork;
import dev.dusky.warehouses.merging.NewTable;
import dev.dusky.warehouses.merging.QueryRefused;
import dev.dusky.warehouses.script.ScratchWords;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.jdbi.v3.core.Handle;

/** Tables in object storage as merges work on them: on the engine. */
final class LakeMergeTables implements MergeTables {

  private final Database database;
  private final LakeTables tables;
  private final Supplier<EngineSessions> engine;

  LakeMergeTables(Database database, LakeTables tables, Supplier<EngineSessions> engine) {
    this.database = database;
    this.tables = tables;
    this.engine = engine;
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    return tables.shape(table);
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return List.of();
  }

  @Override
  public List<TableColumn> columns(String emptyQuery) throws QueryRefused {
    try (EngineTurn turn =
        database.transact("Reading the tables", h -> engine.get().open(h.getConnection()))) {
      return turn.shape(emptyQuery);
    } catch (EngineRefusal e) {
      if (e.ofStatement()) {
        throw new QueryRefused(e.getMessage(), e);
      }
      throw tables.failures().refused("Reading the columns of the source", e);
    }
  }

  @Override
  public String typeName(SqlType type) {
    return type.toString();
  }

  @Override
  public String keyTypeName(SqlType type) {
    return type.toString();
  }

  @Override
  public String createStatement(TableName table, NewTable definition) {
    CreateStatement statement = new CreateStatement(table);
    definition
        .columns()
        .forEach(
            c ->
                statement.column(
                    c.name(), c.type().orElse(SqlType.of(TypeKind.TEXT)), c.notNull()));
    return statement.toString();
  }

  @Override
  public void create(TableName table, NewTable definition) {
    tables.create(table, definition);
  }

  @Override
  public void add(TableName table, List<TableColumn> columns) {
    tables.add(table, columns);
  }

  @Override
  public ScratchWords scratch() {
    return (name, query) -> query;
  }

  @Override
  public boolean onePass() {
    return false;
  }

  @Override
  public MergeWork open(Handle ledger, Merge merge) {
    return new LakeMergeWork(tables, engine.get(), ledger, merge);
  }
}
