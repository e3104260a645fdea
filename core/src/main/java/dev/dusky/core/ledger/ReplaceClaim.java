package dev.dusky.core.ledger;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.tables.Transaction;
import java.util.List;

/**
 * The right to process all files of a load that replaces what is in its landing table. All of it is
 * one transaction: what is taken out, the rows of all files, and all entries. Closing it without
 * {@link #post} or {@link #refuse} undoes everything.
 */
public interface ReplaceClaim extends AutoCloseable {

  /** The transaction for the rows. */
  Transaction transaction();

  /** The postings in force of the feed, in the order of paths and loads. */
  List<PostedRows> inForce();

  /**
   * Enters that these postings are replaced; their rows are taken out already.
   *
   * @param rows how many rows the table lost, those unknown to the ledger included
   */
  void replaced(List<PostedRows> postings, long rows);

  /** The claim on one of the files. Its outcome is entered with those of all others. */
  FileClaim of(StagedFile file);

  /** Undoes everything; no transaction is open until the claim is renewed. */
  void undo();

  /** Claims the files again; false if another load holds or has settled one of them meanwhile. */
  boolean renew();

  /** Commits everything. */
  void post();

  /**
   * Undoes everything, then enters that no file was loaded: those that were refused with their own
   * rejects and message, and all others for this reason.
   */
  void refuse(String why);

  @Override
  void close();
}
