package dev.dusky.warehouses.ledger;

import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.ledger.FeedColumns;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.type.SqlType;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/** The columns that came to feeds, in {@code dusky.feed_column}. */
final class FeedColumnRows {

  private final Database database;
  private final String feed;

  FeedColumnRows(Database database, String feed) {
    this.database = database;
    this.feed = feed;
  }

  /** The columns of a feed, in the order in which they came. */
  static List<GrownColumn> read(Handle handle, String feed) {
    return handle
        .createQuery(
            "select column_name, field, type_text from dusky.feed_column where feed = :feed"
                + " order by column_id")
        .bind("feed", feed)
        .map(
            (row, context) ->
                new GrownColumn(
                    row.getString("column_name"),
                    row.getString("field"),
                    SqlType.parse(row.getString("type_text")).orElseThrow()))
        .list();
  }

  /** Changes them, one process at a time. */
  <T> T change(Function<FeedColumns, T> work) {
    Handle own = database.connect();
    try {
      database.dialect().serialiseMigrations(own.getConnection());
      List<T> result = new ArrayList<>(1);
      database
          .dialect()
          .wholly(
              own.getConnection(),
              () -> {
                result.add(work.apply(new Held(own)));
                own.getConnection().commit();
              });
      return result.get(0);
    } catch (SQLException | JdbiException e) {
      throw database.failed(own, "Changing the columns of feed " + feed, Database.sqlException(e));
    } finally {
      database.release(own);
    }
  }

  /** The columns while they are held. */
  private final class Held implements FeedColumns {

    private final Handle own;

    Held(Handle own) {
      this.own = own;
    }

    @Override
    public Transaction transaction() {
      return JdbcTransaction.of(own);
    }

    @Override
    public List<GrownColumn> known() {
      return read(own, feed);
    }

    @Override
    public void note(GrownColumn column, long loadId) {
      own.createUpdate("delete from dusky.feed_column where feed = :feed and column_name = :name")
          .bind("feed", feed)
          .bind("name", column.name())
          .execute();
      own.createUpdate(
              "insert into dusky.feed_column (feed, column_name, field, type_text, load_id,"
                  + " added_at) values (:feed, :name, :field, :type, :load, :at)")
          .bind("feed", feed)
          .bind("name", column.name())
          .bind("field", column.field())
          .bind("type", column.type().toString())
          .bind("load", loadId)
          .bind("at", Instant.now())
          .execute();
    }
  }
}
