package dev.dusky.warehouses.postgres;

import dev.dusky.warehouses.posting.RowRefusal;
import dev.dusky.warehouses.posting.ScratchTable;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Inserts the rows of the scratch table within the server: block by block, and row by row where the
 * table refuses a block. Each attempt is a subtransaction of one anonymous block of PL/pgSQL, so no
 * row costs a round trip.
 */
final class GuardedInsert {

  /** The rows of a block, and about the number of single inserts that a refusal costs. */
  private static final int BLOCK = 200;

  private static final String REFUSED = "\"dusky_refused\"";

  private static final String CLASSES =
      RowRefusal.CLASSES.stream().sorted().collect(Collectors.joining("', '", "'", "'"));

  private final Connection connection;
  private final String code;

  /**
   * For one table.
   *
   * @param table the table, quoted
   * @param columns the columns that are written, quoted
   */
  GuardedInsert(Connection connection, String table, String columns) throws SQLException {
    this.connection = connection;
    this.code = code(table, columns);
    try (Statement statement = connection.createStatement()) {
      statement.execute(
          "create temporary table if not exists %s (n bigint, state text, message text) on commit drop"
              .formatted(REFUSED));
      statement.execute(
          "create index if not exists dusky_scratch_number on %s (%s)"
              .formatted(ScratchTable.NAME, ScratchTable.NUMBER));
    }
  }

  private static String code(String table, String columns) {
    String rows = ScratchTable.NAME + " where " + ScratchTable.NUMBER;
    String body =
        """
        declare
          low bigint := 1;
          last bigint;
          one bigint;
          done bigint;
        begin
          select max(%3$s) into last from %4$s;
          while low <= last loop
            begin
              insert into %1$s (%2$s) select %2$s from (
                select * from %5$s between low and low + %6$d - 1 order by %3$s offset 0) s;
              get diagnostics done = row_count;
              if done < (select count(*) from %5$s between low and low + %6$d - 1) then
                raise exception using errcode = '%7$s';
              end if;
            exception when others then
              if left(sqlstate, 2) not in (%9$s) and sqlstate <> '%7$s' then
                raise;
              end if;
              for one in select %3$s from %5$s between low and low + %6$d - 1 order by %3$s loop
                begin
                  insert into %1$s (%2$s) select %2$s from %5$s = one;
                  get diagnostics done = row_count;
                  if done = 0 then
                    insert into %8$s values (one, '%7$s', 'a trigger of the table drops the row');
                  end if;
                exception when others then
                  if left(sqlstate, 2) not in (%9$s) then
                    raise;
                  end if;
                  insert into %8$s values (one, sqlstate, sqlerrm);
                end;
              end loop;
            end;
            low := low + %6$d;
          end loop;
        end"""
            .formatted(
                table,
                columns,
                ScratchTable.NUMBER,
                ScratchTable.NAME,
                rows,
                BLOCK,
                RowRefusal.LEFT_OUT,
                REFUSED,
                CLASSES);
    String tag = "$dusky$";
    while (body.contains(tag)) {
      tag = tag.substring(0, tag.length() - 1) + "_$";
    }
    return "do " + tag + "\n" + body + "\n" + tag;
  }

  /** The error with which the table refuses a row. */
  record Refused(String state, String message) {}

  /** Inserts all rows that the table takes; returns the error of each other row, by its number. */
  SortedMap<Long, Refused> run() throws SQLException {
    SortedMap<Long, Refused> refused = new TreeMap<>();
    try (Statement statement = connection.createStatement()) {
      statement.execute("truncate " + REFUSED);
      // The number of rows and that their numbers differ is all that the planner must know.
      statement.execute("set local default_statistics_target = 1");
      statement.execute("analyze %s (%s)".formatted(ScratchTable.NAME, ScratchTable.NUMBER));
      statement.execute("reset default_statistics_target");
      statement.execute(code);
      try (ResultSet row = statement.executeQuery("select n, state, message from " + REFUSED)) {
        while (row.next()) {
          refused.put(row.getLong(1), new Refused(row.getString(2), row.getString(3)));
        }
      }
    }
    return refused;
  }

  /** Whether this database runs such a block. */
  static boolean possible(Connection connection) throws SQLException {
    Savepoint before = connection.setSavepoint();
    try (Statement statement = connection.createStatement()) {
      statement.execute("do $$ begin null; end $$");
      connection.releaseSavepoint(before);
      return true;
    } catch (SQLException e) {
      connection.rollback(before); // without the language, or without the right to use it
      return false;
    }
  }
}
