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
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
      try (PreparedStatement empty = connection.prepareStatement(select("*") + " where 1 = 0");
          ResultSet rows = empty.executeQuery()) {
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
          .hint("Give each of them a name of its own with as");
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
    try (Connection connection = connections.open();
        PreparedStatement statement = connection.prepareStatement(sql)) {
      bind(statement, from, KeyRange.ALL);
      try (ResultSet row = statement.executeQuery()) {
        row.next();
        long least = row.getLong(1);
        return row.wasNull() ? Optional.empty() : Optional.of(new long[] {least, row.getLong(2)});
      }
    } catch (SQLException e) {
      throw refused(e);
    }
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
      PreparedStatement statement =
          connection.prepareStatement(
              select("*") + where(conditions),
              ResultSet.TYPE_FORWARD_ONLY,
              ResultSet.CONCUR_READ_ONLY);
      statement.setFetchSize(FETCH);
      bind(statement, from, range);
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
