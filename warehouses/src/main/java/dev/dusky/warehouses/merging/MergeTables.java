package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.Merge;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.script.ScratchWords;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** The tables that merges work on, in the ledger's database or elsewhere. */
public interface MergeTables {

  /** The columns of a table; empty if there is none of that name. */
  Optional<TableShape> shape(TableName table);

  /** What a table itself sees to. */
  List<TableRule> rules(TableName table);

  /**
   * The columns that a query would give.
   *
   * @param emptyQuery a query that gives no row
   * @throws QueryRefused if the query is at fault
   */
  List<TableColumn> columns(String emptyQuery) throws QueryRefused;

  /** The name of a type here. */
  String typeName(SqlType type);

  /** The name of a type here for a column that belongs to a key. */
  String keyTypeName(SqlType type);

  /** A statement with which people make a table. */
  default String createStatement(TableName table, NewTable definition) {
    return definition.statement(table);
  }

  /** Creates a table, unless another process has created it meanwhile. */
  void create(TableName table, NewTable definition);

  /** Gives a table more columns, all of which may be null. */
  void add(TableName table, List<TableColumn> columns);

  /** How the text of a step makes a scratch table. */
  ScratchWords scratch();

  /** Whether one statement can judge and write at the same time. */
  boolean onePass();

  /**
   * Begins work on the tables that commits, or not, with the transaction of the ledger's handle.
   */
  MergeWork open(Handle ledger, Merge merge);
}
