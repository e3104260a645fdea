package dev.dusky.warehouses.posting;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.Landing;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.Connection;
import java.sql.SQLException;

/**
 * The context of the writer of one file's rows.
 *
 * @param database the database
 * @param transaction the file's transaction
 * @param landing the feed, whose columns the batches have, and the landing table
 * @param load the load's number
 * @param file the file's number
 */
public record Posting(
    Database database, JdbcTransaction transaction, Landing landing, long load, long file) {

  /** The connection of the transaction. */
  public Connection connection() {
    return transaction.handle().getConnection();
  }

  /** The feed. */
  public Feed feed() {
    return landing.feed();
  }

  /** The landing table. */
  public TableShape table() {
    return landing.table();
  }

  /** The kind of database. */
  public Dialect dialect() {
    return database.dialect();
  }

  /** Whether the ledger exists there, so that other files can be named. */
  public boolean booked() {
    return transaction.booked();
  }

  /** The failure of writing. */
  public Failure failed(SQLException e) {
    return database.failures().of("Writing into " + table().name(), e);
  }
}
