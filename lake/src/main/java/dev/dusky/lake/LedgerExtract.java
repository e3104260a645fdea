package dev.dusky.lake;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.lake.engine.EngineTurn;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.statement.UnableToExecuteStatementException;

/** What the statements of a merge read of its ledger: small tables that go to the engine. */
final class LedgerExtract {

  private static final SqlType NUMBER = SqlType.of(TypeKind.BIGINT);
  private static final SqlType TEXT = SqlType.of(TypeKind.TEXT);

  private enum Part {
    FILES(
        "dusky.merge_file",
        columns("merge_name", TEXT, "load_id", NUMBER, "file_id", NUMBER, "merge_id", NUMBER),
        "select merge_name, load_id, file_id, merge_id from dusky.merge_file where merge_name = ?"),
    REJECTS(
        "dusky.merge_reject",
        columns(
            "merge_name",
            TEXT,
            "state",
            TEXT,
            "code",
            TEXT,
            "retried_by",
            NUMBER,
            "load_id",
            NUMBER,
            "file_id",
            NUMBER,
            "record_number",
            NUMBER),
        "select merge_name, state, code, retried_by, load_id, file_id, record_number"
            + " from dusky.merge_reject where merge_name = ? and state in ('open', 'retried')");

    private final String table;
    private final Map<String, SqlType> columns;
    private final String query;

    Part(String table, Map<String, SqlType> columns, String query) {
      this.table = table;
      this.columns = columns;
      this.query = query;
    }
  }

  private final Handle ledger;
  private final String merge;
  private final Set<Part> given = new HashSet<>();

  LedgerExtract(Handle ledger, String merge) {
    this.ledger = ledger;
    this.merge = merge;
  }

  private static Map<String, SqlType> columns(Object... namesAndTypes) {
    Map<String, SqlType> columns = new LinkedHashMap<>();
    for (int i = 0; i < namesAndTypes.length; i += 2) {
      columns.put((String) namesAndTypes[i], (SqlType) namesAndTypes[i + 1]);
    }
    return columns;
  }

  /** Gives the engine the tables of the ledger that a statement names. */
  void give(EngineTurn turn, String sql) {
    for (Part part : Part.values()) {
      if (sql.contains(part.table) && given.add(part)) {
        turn.fill(part.table, part.columns, rows(part.query, merge));
      }
    }
  }

  /** Gives the engine the files whose rows are merged. */
  void giveChosen(EngineTurn turn, String scratch) {
    turn.fill(
        scratch,
        columns("load_id", NUMBER, "file_id", NUMBER, "loaded_rows", NUMBER),
        rows("select load_id, file_id, loaded_rows from " + scratch));
  }

  private List<List<String>> rows(String sql, String... parameters) {
    List<List<String>> rows = new ArrayList<>();
    try (PreparedStatement select = ledger.getConnection().prepareStatement(sql)) {
      for (int i = 0; i < parameters.length; i++) {
        select.setString(i + 1, parameters[i]);
      }
      try (ResultSet row = select.executeQuery()) {
        int columns = row.getMetaData().getColumnCount();
        while (row.next()) {
          List<String> values = new ArrayList<>();
          for (int i = 1; i <= columns; i++) {
            values.add(row.getString(i));
          }
          rows.add(values);
        }
      }
    } catch (SQLException e) {
      throw new UnableToExecuteStatementException(e, null);
    }
    return rows;
  }
}
