package dev.dusky.warehouses.landed;

import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;

/** The rows of a landing table that have leftovers, as promotions read and change them. */
public interface LeftoverRows {

  /**
   * What a promotion makes of a row.
   *
   * @param value the new column's value, as a file of text would have it
   * @param rest what its leftovers are then, as JSON; null if nothing is left
   */
  record Moved(String value, String rest) {}

  /** Gives the leftovers of all rows that have some, as JSON, a batch at a time. */
  void scan(Handle ledger, TableName table, Consumer<List<String>> taker) throws SQLException;

  /**
   * Moves a field into a column, in the transaction of the ledger's connection.
   *
   * @param change what becomes of rows with these leftovers; nothing for those that stay
   * @return how many rows were changed
   */
  long move(
      Handle ledger,
      TableName table,
      String column,
      SqlType type,
      Function<List<String>, List<Optional<Moved>>> change)
      throws SQLException;
}
