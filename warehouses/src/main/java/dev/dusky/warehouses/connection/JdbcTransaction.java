package dev.dusky.warehouses.connection;

import dev.dusky.core.tables.Transaction;
import org.jdbi.v3.core.Handle;

/** The transaction of one connection. */
public interface JdbcTransaction extends Transaction {

  /** The connection. */
  Handle handle();

  /** Whether the ledger's tables exist there, so that other files can be named. */
  boolean booked();

  /** The transaction of a claim. */
  static JdbcTransaction of(Handle handle) {
    return new Claimed(handle, true);
  }

  /** The JDBC transaction of this warehouse. */
  static JdbcTransaction of(Transaction transaction) {
    return (JdbcTransaction) transaction;
  }

  /** The transaction of a claim in the ledger. */
  record Claimed(Handle handle, boolean booked) implements JdbcTransaction {}
}
