package dev.dusky.warehouses;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.DueFile;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.ledger.RunningLoad;
import dev.dusky.core.table.TableShape;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** The ledger over JDBC. */
final class JdbcLedger implements Ledger {

  private final JdbcWarehouse warehouse;

  JdbcLedger(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  @Override
  public void prepare() {
    warehouse.transact(
        "Making the ledger's tables",
        c -> {
          new Migrations(warehouse.dialect()).apply(c);
          return null;
        });
  }

  @Override
  public List<Long> closeInterrupted() {
    String find =
        "select load_id from dusky.load where state = 'running' order by load_id "
            + warehouse.dialect().claimClause();
    return warehouse.transact(
        "Looking for interrupted loads",
        c -> {
          if (longs(c, "select load_id from dusky.load where state = 'running'").isEmpty()) {
            return List.of();
          }
          List<Long> dead = new ArrayList<>();
          try {
            warehouse.dialect().alone(c, () -> dead.addAll(longs(c, find)));
          } catch (SQLException e) {
            String state = String.valueOf(e.getSQLState());
            if (!state.equals("42501") && !state.equals("25006")) {
              throw e;
            }
            c.rollback(); // who may only look leaves that to others
            return List.of();
          }
          for (long load : dead) {
            JdbcRunningLoad.end(
                c, load, LoadState.INTERRUPTED, "its process ended without finishing it");
          }
          return dead;
        });
  }

  @Override
  public Optional<TableShape> landing(Feed feed) {
    Optional<TableShape> existing = warehouse.shape(feed.into());
    if (existing.isEmpty() && feed.create()) {
      warehouse.create(feed.into(), feed.columns());
      existing = warehouse.shape(feed.into());
    }
    return existing;
  }

  @Override
  public RunningLoad begin(LoadStart start, Feed feed, TableShape table) {
    Connection own = warehouse.connect();
    try {
      long[] id = new long[1];
      warehouse
          .dialect()
          .alone(
              own,
              () -> {
                id[0] = insert(own, start);
                own.commit();
                if (!JdbcRunningLoad.lock(own, warehouse.dialect(), id[0])) {
                  throw new SQLException("somebody closed load %d at once".formatted(id[0]));
                }
              });
      return new JdbcRunningLoad(warehouse, own, id[0], start, feed, table);
    } catch (SQLException e) {
      throw warehouse.failed(own, "Opening a load of feed " + start.feed(), e);
    }
  }

  private static List<Long> longs(Connection connection, String sql) throws SQLException {
    List<Long> numbers = new ArrayList<>();
    try (Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      while (row.next()) {
        numbers.add(row.getLong(1));
      }
    }
    return numbers;
  }

  static long insert(Connection connection, LoadStart start) throws SQLException {
    String sql =
        "insert into dusky.load (feed, into_table, state, started_at, started_by, host,"
            + " tool_version, declared, kind) values (?, ?, 'running', ?, ?, ?, ?, ?, ?)";
    try (PreparedStatement insert = connection.prepareStatement(sql, new String[] {"load_id"})) {
      insert.setString(1, start.feed());
      insert.setString(2, start.into());
      insert.setTimestamp(3, Timestamp.from(start.at()));
      insert.setString(4, start.startedBy());
      insert.setString(5, start.host());
      insert.setString(6, start.toolVersion());
      insert.setString(7, start.declared());
      insert.setString(8, start.kind().label());
      insert.executeUpdate();
      try (ResultSet keys = insert.getGeneratedKeys()) {
        keys.next();
        return keys.getLong(1);
      }
    }
  }

  @Override
  public List<FileEntry> filesFrom(String feed, String path, int most) {
    String sql =
        "select file_id, path, version, state, load_id, message, declared from dusky.file"
            + " where feed = ? and %s order by %s, file_id limit %d"
                .formatted(warehouse.dialect().pathFrom(), warehouse.dialect().pathOrder(), most);
    return warehouse.transact(
        "Looking up files",
        c -> {
          List<FileEntry> entries = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, feed);
            query.setString(2, path);
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                entries.add(entry(row));
              }
            }
          }
          return entries;
        });
  }

  @Override
  public List<GrownColumn> grown(String feed) {
    return new TableGrowth(warehouse).of(feed);
  }

  @Override
  public List<DueFile> due(String feed) {
    return new DueRows(warehouse).of(feed);
  }

  @Override
  public void settleDue(List<DueFile> files, Function<DueFile, Optional<DueFile>> work) {
    new DueRows(warehouse).settle(files, work);
  }

  @Override
  public Optional<String> pause(String feed) {
    return warehouse.feeds().pause(feed).map(FeedBook.Pause::toString);
  }

  /** Reads file_id, path, version, state, load_id, message, declared. */
  static FileEntry entry(ResultSet row) throws SQLException {
    return new FileEntry(
        row.getLong(1),
        row.getString(2),
        row.getString(3),
        FileState.of(row.getString(4)),
        Optional.ofNullable(row.getObject(5, Long.class)),
        Optional.ofNullable(row.getString(6)),
        Optional.ofNullable(row.getString(7)));
  }
}
