package dev.dusky.core.ledger;

import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.RowWriter;
import java.util.List;
import java.util.Optional;

/**
 * The right to deal with one file, held as a row lock in the warehouse for as long as its
 * connection lives. It carries the one transaction in which the file's rows and its ledger entry
 * commit together. Closing it without {@link #settle} undoes everything.
 */
public interface FileClaim extends AutoCloseable {

  /** The file's number in the ledger. */
  long fileId();

  /** Starts writing rows into the landing table, in this claim's transaction. */
  RowWriter writer();

  /**
   * Takes the rows that are in the table of it out again and books that, in this claim's
   * transaction; for a file that is loaded again on purpose, or replaced by its revised content.
   * Nothing happens if there are none.
   *
   * @param why what the books say of it
   */
  void withdraw(String why);

  /**
   * Holds the landing table against others that look for repeats in it, until this claim's
   * transaction ends, and tells what others have posted into it.
   *
   * @return a text that is another one whenever somebody else has changed the table
   */
  String landedMark();

  /** Gives the values of these columns of all rows that are in the landing table. */
  void landedRows(List<String> columns, LandedRows taker);

  /** A posted file of the same feed with this content. */
  Optional<FileEntry> twinOf(String fingerprint);

  /**
   * Undoes the rows written so far but keeps hold of the file, so that a refusal can be recorded.
   *
   * @return false if another load has dealt with the file in between
   */
  boolean undoRows();

  /**
   * Writes outcome and rejects into the ledger and commits, rows included.
   *
   * @throws IllegalStateException if the file may not take that state
   */
  void settle(FileOutcome outcome, RejectSpool rejects);

  /** Rolls back what was not settled and lets go of the file. */
  @Override
  void close();
}
