package dev.dusky.warehouses;

import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Adds columns to a landing table and makes types wider, and notes it in {@code dusky.feed_column}.
 * Loads that want it at the same time take turns; who comes second finds what the first one did.
 */
final class TableGrowth {

  private final JdbcWarehouse warehouse;

  TableGrowth(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /** What came to a feed so far. */
  List<GrownColumn> of(String feed) {
    return warehouse.transact("Reading the columns of feed " + feed, c -> read(c, feed));
  }

  private static List<GrownColumn> read(Connection connection, String feed) throws SQLException {
    List<GrownColumn> columns = new ArrayList<>();
    try (PreparedStatement query =
        connection.prepareStatement(
            "select column_name, field, type_text from dusky.feed_column where feed = ?"
                + " order by column_id")) {
      query.setString(1, feed);
      try (ResultSet row = query.executeQuery()) {
        while (row.next()) {
          columns.add(
              new GrownColumn(
                  row.getString(1),
                  row.getString(2),
                  SqlType.parse(row.getString(3)).orElseThrow()));
        }
      }
    }
    return columns;
  }

  /** Grows. */
  Growth.Result grow(Feed feed, Growth growth, long loadId) {
    Connection own = warehouse.connect();
    try {
      warehouse.dialect().serialiseMigrations(own);
      List<Drift> done = new ArrayList<>();
      warehouse
          .dialect()
          .wholly(
              own,
              () -> {
                for (int i = 0; i < growth.columns().size(); i++) {
                  done.add(
                      grow(own, feed, growth.columns().get(i), growth.drifts().get(i), loadId));
                }
                own.commit();
              });
      TableShape table = warehouse.shape(feed.into()).orElseThrow();
      return new Growth.Result(feed.grown(of(feed.name())), table, done);
    } catch (SQLException e) {
      Failure failure = warehouse.failed(own, "Changing " + feed.into(), e);
      if (SqlFailures.broken(e)) {
        throw failure;
      }
      throw Failure.file("Table " + feed.into() + " cannot grow as the file asks")
          .because(SqlFailures.firstLine(e))
          .next("Change the table yourself, or let drift capture what the feed does not know")
          .from(e);
    } finally {
      warehouse.release(own);
    }
  }

  private Drift grow(Connection own, Feed feed, GrownColumn wanted, Drift why, long loadId)
      throws SQLException {
    TableShape table = warehouse.shape(feed.into()).orElseThrow();
    Optional<GrownColumn> known =
        read(own, feed.name()).stream().filter(c -> c.field().equals(wanted.field())).findFirst();
    boolean widens = why.change() == Drift.Change.TYPE;
    if (!widens && known.isPresent()) {
      return why.in(why.records()).as(Drift.Action.EXTENDED); // another load was faster
    }
    GrownColumn column = widens ? wanted : free(feed, table, wanted);
    Optional<TableColumn> there = table.column(column.name());
    boolean holds = there.flatMap(TableColumn::type).map(t -> t.holds(column.type())).orElse(false);
    Optional<String> sql = Optional.empty();
    if (!holds) {
      sql = Optional.of(statement(feed, column, there.isPresent()));
      try (Statement statement = own.createStatement()) {
        statement.execute(sql.get());
      }
    }
    note(own, feed, column, loadId);
    return told(why, column, sql);
  }

  /** What a rehearsal says of it. */
  List<Drift> planned(Feed feed, Growth growth) {
    List<Drift> drifts = new ArrayList<>();
    for (int i = 0; i < growth.columns().size(); i++) {
      GrownColumn column = growth.columns().get(i);
      Drift why = growth.drifts().get(i);
      boolean widens = why.change() == Drift.Change.TYPE;
      drifts.add(told(why, column, Optional.of(statement(feed, column, widens))));
    }
    return drifts;
  }

  private static Drift told(Drift why, GrownColumn column, Optional<String> sql) {
    return new Drift(
        why.field(),
        why.change(),
        why.seen(),
        why.action(),
        why.records(),
        why.example(),
        sql,
        "column %s is %s now; declare it in the feed".formatted(column.name(), column.type()));
  }

  private String statement(Feed feed, GrownColumn column, boolean there) {
    String type = warehouse.dialect().typeName(column.type());
    String name = Identifiers.quote(column.name());
    return "alter table %s %s"
        .formatted(
            Identifiers.quote(feed.into()),
            there
                ? "alter column %s set data type %s".formatted(name, type)
                : "add column %s %s".formatted(name, type));
  }

  /** The column under a name that the table does not use for something else. */
  private static GrownColumn free(Feed feed, TableShape table, GrownColumn wanted) {
    String name = wanted.name();
    for (int n = 2; !usable(feed, table, name, wanted.type()); n++) {
      name = wanted.name() + "_" + n;
    }
    return new GrownColumn(name, wanted.field(), wanted.type());
  }

  private static boolean usable(Feed feed, TableShape table, String name, SqlType type) {
    if (feed.column(name).isPresent()) {
      return false;
    }
    Optional<TableColumn> there = table.column(name);
    return there.isEmpty()
        || !there.get().notNull() && there.get().type().map(t -> t.holds(type)).orElse(false);
  }

  private static void note(Connection own, Feed feed, GrownColumn column, long loadId)
      throws SQLException {
    try (PreparedStatement delete =
            own.prepareStatement(
                "delete from dusky.feed_column where feed = ? and column_name = ?");
        PreparedStatement insert =
            own.prepareStatement(
                "insert into dusky.feed_column (feed, column_name, field, type_text, load_id,"
                    + " added_at) values (?, ?, ?, ?, ?, ?)")) {
      delete.setString(1, feed.name());
      delete.setString(2, column.name());
      delete.executeUpdate();
      insert.setString(1, feed.name());
      insert.setString(2, column.name());
      insert.setString(3, column.field());
      insert.setString(4, column.type().toString());
      insert.setLong(5, loadId);
      insert.setTimestamp(6, Timestamp.from(Instant.now()));
      insert.executeUpdate();
    }
  }
}
