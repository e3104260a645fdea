package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.TableShape;
import java.sql.Connection;
import java.sql.SQLException;

/**
 * What a writer of one file's rows needs to know.
 *
 * @param connection carries the file's transaction
 * @param feed the feed, whose columns the batches have
 * @param table the landing table
 * @param load the load's number
 * @param file the file's number
 * @param failures says what the database refuses
 * @param dialect what this kind of database does in its own way
 * @param booked whether the ledger is there to ask for other files
 */
record Posting(
    Connection connection,
    Feed feed,
    TableShape table,
    long load,
    long file,
    SqlFailures failures,
    Dialect dialect,
    boolean booked) {

  Failure failed(SQLException e) {
    return failures.of("Writing into " + table.name(), e);
  }
}
