package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.RowWriter;
import java.sql.SQLException;

/** The rows of several small files on their way into the landing table, in one transaction. */
public interface GroupRows {

  /** Starts with a file's rows. */
  RowWriter file(long fileId) throws SQLException;

  /** Takes the rows of the current file back. */
  void undoFile() throws SQLException;

  /** Sends what is not sent yet; false if the table does not take all of it. */
  boolean send() throws SQLException;
}
