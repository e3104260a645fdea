package dev.dusky.warehouses.posting;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.Transaction;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.connection.JdbcTransaction;
import dev.dusky.warehouses.connection.SqlFailures;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;
import org.jdbi.v3.core.statement.Update;

/** Rows that loads have replaced, in tables {@code dusky.before_N}, where N is the load. */
public final class JdbcFormerRows implements FormerRows {

  private static final String PREFIX = "before_";

  /** The columns that can be written: not those that the table computes. */
  private static final String COLUMNS =
      """
      select column_name from information_schema.columns
      where table_schema = :schema and table_name = :table and is_generated = 'NEVER'
      order by ordinal_position""";

  /** Kept rows that no load refers to: those before the last one, and of loads that failed. */
  private static final String NEEDLESS =
      """
      select t.table_name from information_schema.tables t
      where t.table_schema = 'dusky' and left(t.table_name, 7) = 'before_'
        and not exists (select 1 from dusky.replacement r
          where 'before_' || cast(r.load_id as varchar) = t.table_name and r.kept
            and (r.into_table <> :into or r.load_id =
              (select max(o.load_id) from dusky.replacement o where o.into_table = :into)))
        and not exists (select 1 from dusky.load l
          where 'before_' || cast(l.load_id as varchar) = t.table_name and l.state = 'running')""";

  private final Database database;

  /** The rows replaced in tables of that database. */
  public JdbcFormerRows(Database database) {
    this.database = database;
  }

  private static TableName kept(long loadId) {
    return new TableName("dusky", PREFIX + loadId);
  }

  /** Where making a table does not commit, it is made with the rows. */
  @Override
  public void prepare(TableName table, long loadId) {
    if (database.dialect().embedded()) {
      database.transact(
          "Making room for the rows that are replaced",
          h -> h.execute(create(table, loadId) + " where 1 = 0"));
    }
  }

  private static String create(TableName table, long loadId) {
    return "create table %s as select * from %s"
        .formatted(Identifiers.quote(kept(loadId)), Identifiers.quote(table));
  }

  @Override
  public void hold(Transaction transaction, TableName table) {
    database.run(
        JdbcTransaction.of(transaction).handle(),
        "Holding " + table,
        h -> {
          database.dialect().lockTable(h.getConnection(), table);
          return null;
        });
  }

  @Override
  public long takeOut(
      Transaction transaction, TableName table, long loadId, Optional<List<ProvenanceKey>> only) {
    Handle handle = JdbcTransaction.of(transaction).handle();
    return database.run(
        handle,
        "Taking rows out of " + table,
        h -> {
          boolean whole = only.isEmpty() && !database.dialect().embedded();
          if (!database.dialect().embedded()) {
            h.execute(create(table, loadId) + (whole ? "" : " where 1 = 0"));
          }
          if (!whole) {
            copy(h, table, kept(loadId), only);
          }
          return delete(h, table, only);
        });
  }

  @Override
  public long leaveOut(
      Transaction transaction, TableName table, Optional<List<ProvenanceKey>> only) {
    Handle handle = JdbcTransaction.of(transaction).handle();
    return database.run(handle, "Taking rows out of " + table, h -> delete(h, table, only));
  }

  @Override
  public long bringBack(Transaction transaction, TableName table, long loadId) {
    Handle handle = JdbcTransaction.of(transaction).handle();
    return database.run(
        handle,
        "Bringing rows back into " + table,
        h -> copy(h, kept(loadId), table, Optional.empty()));
  }

  private static long copy(
      Handle handle, TableName from, TableName into, Optional<List<ProvenanceKey>> only) {
    String columns =
        columns(handle, from).stream()
            .filter(columns(handle, into)::contains)
            .map(Identifiers::quote)
            .collect(Collectors.joining(", "));
    return bound(
        handle,
        "insert into %s (%s) overriding system value select %s from %s%s"
            .formatted(
                Identifiers.quote(into), columns, columns, Identifiers.quote(from), where(only)),
        only);
  }

  private static List<String> columns(Handle handle, TableName table) {
    return handle
        .createQuery(COLUMNS)
        .bind("schema", table.schema())
        .bind("table", table.table())
        .mapTo(String.class)
        .list();
  }

  private static long delete(Handle handle, TableName table, Optional<List<ProvenanceKey>> only) {
    try {
      return bound(handle, "delete from " + Identifiers.quote(table) + where(only), only);
    } catch (JdbiException e) {
      SQLException cause = Database.sqlException(e);
      if (Database.state(e).startsWith("2350")) {
        throw Failure.warehouse("Rows of " + table + " cannot be replaced")
            .because("other tables refer to them: " + SqlFailures.firstLine(cause))
            .hint("Load into a table that nothing refers to, and merge from there")
            .from(cause);
      }
      throw e;
    }
  }

  private static String where(Optional<List<ProvenanceKey>> only) {
    return only.isEmpty()
        ? ""
        : " where (dusky_load, dusky_file) in (select s.l, s.f from"
            + " unnest(cast(:loads as bigint array), cast(:files as bigint array)) as s(l, f))";
  }

  private static long bound(Handle handle, String sql, Optional<List<ProvenanceKey>> only) {
    Update update = handle.createUpdate(sql);
    if (only.isPresent()) {
      update.bindArray(
          "loads", Long.class, only.get().stream().map(ProvenanceKey::loadId).toList());
      update.bindArray(
          "files", Long.class, only.get().stream().map(ProvenanceKey::fileId).toList());
    }
    return update.execute();
  }

  @Override
  public void tidy(TableName table) {
    database.transact(
        "Removing rows that were replaced before",
        h -> {
          List<String> needless =
              h.createQuery(NEEDLESS).bind("into", table.toString()).mapTo(String.class).list();
          for (String name : needless) {
            long load = Long.parseLong(name.substring(PREFIX.length()));
            h.createUpdate("update dusky.replacement set kept = false where load_id = :load")
                .bind("load", load)
                .execute();
            h.execute("drop table if exists " + Identifiers.quote(kept(load)));
          }
          return null;
        });
  }
}
