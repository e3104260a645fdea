package dev.dusky.warehouses.source;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.source.KeyRange;
import dev.dusky.core.source.Source;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.source.SourceDatabase;
import dev.dusky.core.source.SourceReader;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.connection.SqlFailures;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.postgresql.PGConnection;

/** The database of a source. The query is a subquery of what is asked, so it can only read. */
final class JdbcSourceDatabase implements SourceDatabase {

  /** How many rows the driver fetches at a time. */
  private static final int FETCH = 10_000;

  private final Source source;
  private final SourceConnections connections;
  private final List<SourceColumn> columns;
  private final String quote;

  JdbcSourceDatabase(Source source, SourceConnections connections) {
    this.source = source;
    this.connections = connections;
    List<SourceColumn> found = new ArrayList<>();
    try (Connection connection = connections.open()) {
      quote = connection.getMetaData().getIdentifierQuoteString().strip();
      boolean upper = connection.getMetaData().storesUpperCaseIdentifiers();
      try (Statement empty = connection.createStatement();
          ResultSet rows = empty.executeQuery(select("*") + " where 1 = 0")) {
        ResultSetMetaData data = rows.getMetaData();
        for (int c = 1; c <= data.getColumnCount(); c++) {
          found.add(SourceTypes.column(data, c, upper));
        }
      }
    } catch (SQLException e) {
      connections.close();
      throw refused(e);
    }
    columns = List.copyOf(found);
    if (columns.stream().map(SourceColumn::name).distinct().count() < columns.size()) {
      connections.close();
      throw Failure.configuration(
              "The query of source %s cannot be staged".formatted(source.name()))
          .because("several of its columns have the same name")
          .hint("Give each of them another name with as");
    }
  }

  private Failure refused(SQLException e) {
    return Failure.depot("The query of source %s failed".formatted(source.name()))
        .because(SqlFailures.firstLine(e))
        .hint("Try it with that database's own tools; nothing was staged")
        .from(e);
  }

  private String select(String what) {
    String query = source.query().strip().replaceFirst(";\\s*$", "");
    return "select %s from (%s\n) dusky_source".formatted(what, query);
  }

  /** A column's name as the database writes it. */
  private String quoted(String column) {
    String name = column(column).label();
    return quote.isEmpty() ? name : quote + name.replace(quote, quote + quote) + quote;
  }

  private SourceColumn column(String name) {
    return columns.stream().filter(c -> c.name().equalsIgnoreCase(name)).findFirst().orElseThrow();
  }

  @Override
  public List<SourceColumn> columns() {
    return columns;
  }

  @Override
  public Optional<long[]> keys(Optional<String> from) {
    String key = quoted(source.slices().orElseThrow().by());
    String sql = select("min(%s), max(%s)".formatted(key, key)) + where(newer(from));
    try (Connection connection = connections.open()) {
      if (connection.isWrapperFor(PGConnection.class)) {
        try (Statement statement = connection.createStatement();
            ResultSet row = statement.executeQuery(filled(sql, from, KeyRange.ALL))) {
          return keys(row);
        }
      }
      try (PreparedStatement statement = prepare(connection, sql, from, KeyRange.ALL);
          ResultSet row = statement.executeQuery()) {
        return keys(row);
      }
    } catch (SQLException e) {
      throw refused(e);
    }
  }

  private static Optional<long[]> keys(ResultSet row) throws SQLException {
    row.next();
    long least = row.getLong(1);
    return row.wasNull() ? Optional.empty() : Optional.of(new long[] {least, row.getLong(2)});
  }

  @Override
  public SourceReader read(Optional<String> from, KeyRange range) {
    List<String> conditions = new ArrayList<>(newer(from));
    if (!range.equals(KeyRange.ALL)) {
      String key = quoted(source.slices().orElseThrow().by());
      if (range.from().isPresent()) {
        conditions.add(
            range.to().isPresent() ? key + " >= ?" : "(%s >= ? or %s is null)".formatted(key, key));
      }
      if (range.to().isPresent()) {
        conditions.add(key + " < ?");
      }
    }
    Connection connection = connections.open();
    try {
      if (connection.isWrapperFor(PGConnection.class)) {
        return new PostgresSourceReader(
            source.name(),
            columns,
            connection,
            filled(
                select(PostgresSourceReader.selected(columns)) + where(conditions), from, range));
      }
      PreparedStatement statement =
          prepare(connection, select("*") + where(conditions), from, range);
      statement.setFetchSize(FETCH);
      return new JdbcSourceReader(source.name(), columns, connection, statement);
    } catch (SQLException e) {
      try {
        connection.close();
      } catch (SQLException again) {
        e.addSuppressed(again);
      }
      throw refused(e);
    }
  }

  private List<String> newer(Optional<String> from) {
    return from.isEmpty()
        ? List.of()
        : List.of(quoted(source.newer().orElseThrow().column()) + " >= ?");
  }

  private static String where(List<String> conditions) {
    return conditions.isEmpty() ? "" : " where " + String.join(" and ", conditions);
  }

  private PreparedStatement prepare(
      Connection connection, String sql, Optional<String> from, KeyRange range)
      throws SQLException {
    PreparedStatement statement =
        connection.prepareStatement(sql, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
    bind(statement, from, range);
    return statement;
  }

  private void bind(PreparedStatement statement, Optional<String> from, KeyRange range)
      throws SQLException {
    int next = 1;
    if (from.isPresent()) {
      SqlType type = column(source.newer().orElseThrow().column()).type();
      statement.setObject(next++, value(type, from.get()));
    }
    if (range.from().isPresent()) {
      statement.setLong(next++, range.from().get());
    }
    if (range.to().isPresent()) {
      statement.setLong(next, range.to().get());
    }
  }

  /** The statement with its values in it; all of them are of our own making. */
  private String filled(String sql, Optional<String> from, KeyRange range) {
    String result = sql;
    if (from.isPresent()) {
      SqlType type = column(source.newer().orElseThrow().column()).type();
      String literal =
          type.kind().isTemporal()
              ? "%s '%s'".formatted(type, from.get())
              : new BigDecimal(from.get()).toPlainString();
      result = fill(result, literal);
    }
    for (Optional<Long> end : List.of(range.from(), range.to())) {
      if (end.isPresent()) {
        result = fill(result, Long.toString(end.get()));
      }
    }
    return result;
  }

  /** Replaces the first parameter behind the query itself. */
  private static String fill(String sql, String literal) {
    int at = sql.indexOf(" ?", sql.lastIndexOf(") dusky_source"));
    return sql.substring(0, at + 1) + literal + sql.substring(at + 2);
  }

  private static Object value(SqlType type, String text) {
    return switch (type.kind()) {
      case DATE -> LocalDate.parse(text);
      case TIMESTAMP -> LocalDateTime.parse(text);
      case TIMESTAMP_TZ -> OffsetDateTime.parse(text);
      case DECIMAL -> new BigDecimal(text);
      default -> Long.valueOf(text);
    };
  }

  @Override
  public void close() {
    connections.close();
  }
}
