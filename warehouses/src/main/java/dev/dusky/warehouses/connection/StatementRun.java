package dev.dusky.warehouses.connection;

import dev.dusky.core.warehouse.ResultTaker;
import java.nio.charset.StandardCharsets;
import java.sql.Clob;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;

/** Runs one SQL statement that a person wrote. */
public final class StatementRun {

  private StatementRun() {}

  /** Runs the statement in its own transaction. */
  public static void run(Database database, String sql, ResultTaker taker) {
    database.transact(
        "The statement",
        h -> {
          try (Statement statement = h.getConnection().createStatement()) {
            statement.setFetchSize(1000);
            if (statement.execute(sql)) {
              try (ResultSet result = statement.getResultSet()) {
                take(result, taker);
              }
            } else {
              taker.changed(statement.getLargeUpdateCount());
            }
          }
          return null;
        });
  }

  private static void take(ResultSet result, ResultTaker taker) throws SQLException {
    ResultSetMetaData meta = result.getMetaData();
    List<String> names = new ArrayList<>();
    List<Boolean> numeric = new ArrayList<>();
    for (int i = 1; i <= meta.getColumnCount(); i++) {
      names.add(meta.getColumnLabel(i));
      numeric.add(isNumeric(meta.getColumnType(i)));
    }
    taker.columns(names, numeric);
    while (result.next()) {
      List<Object> row = new ArrayList<>(names.size());
      for (int i = 1; i <= names.size(); i++) {
        row.add(readable(result, i));
      }
      taker.row(row);
    }
  }

  /** A value as people and JSON can take it: null, a number, a truth value, or text. */
  public static Object readable(ResultSet result, int column) throws SQLException {
    boolean json = "JSON".equals(result.getMetaData().getColumnTypeName(column));
    return json ? json(result.getBytes(column)) : value(result.getObject(column), result, column);
  }

  /** H2 gives JSON as bytes. */
  private static String json(byte[] text) {
    return text == null ? null : new String(text, StandardCharsets.UTF_8);
  }

  private static boolean isNumeric(int type) {
    return switch (type) {
      case Types.SMALLINT,
          Types.INTEGER,
          Types.BIGINT,
          Types.NUMERIC,
          Types.DECIMAL,
          Types.REAL,
          Types.FLOAT,
          Types.DOUBLE ->
          true;
      default -> false;
    };
  }

  private static Object value(Object value, ResultSet result, int column) throws SQLException {
    if (value == null || value instanceof Number || value instanceof Boolean) {
      return value;
    }
    if (value instanceof byte[] bytes) {
      return "\\x" + HexFormat.of().formatHex(bytes);
    }
    if (value instanceof java.sql.Blob blob) {
      return "\\x" + HexFormat.of().formatHex(blob.getBytes(1, (int) blob.length()));
    }
    if (value instanceof Clob clob) {
      return clob.getSubString(1, (int) clob.length());
    }
    return result.getString(column);
  }
}
