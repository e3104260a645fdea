package dev.dusky.warehouses.posting;

import dev.dusky.core.tables.RowWriter;
import java.sql.SQLException;
import java.util.function.LongFunction;

/** How rows get into a landing table of one kind of database. */
public interface RowWriting {

  /** Starts writing a file's rows. */
  RowWriter writer(Posting posting) throws SQLException;

  /**
   * Starts writing rows of several small files together.
   *
   * @param postings what the writer of a file needs, by the file's number
   */
  GroupRows group(LongFunction<Posting> postings);
}
