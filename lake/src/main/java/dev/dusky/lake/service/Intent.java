package dev.dusky.lake.service;

import dev.dusky.core.table.TableName;

/**
 * That a process is about to change a table for a transaction of the ledger. It is removed in that
 * transaction.
 *
 * @param token what marks the change in the table
 * @param base the state that the table must have for the change to be accepted; {@link #NONE} if it
 *     has none
 */
record Intent(String token, TableName table, long base) {

  /** The state of a table that never had rows. */
  static final long NONE = -1;
}
