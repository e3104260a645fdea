package dev.dusky.lake.service;

import java.sql.Connection;
import java.sql.SQLException;

/** Opens connections to the ledger apart from that of a transaction. */
@FunctionalInterface
interface LedgerConnections {

  /** Opens one, without automatic commits. */
  Connection open() throws SQLException;
}
