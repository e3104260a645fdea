package dev.dusky.warehouses.proofs;

import dev.dusky.core.table.TableName;
import java.math.BigDecimal;
import org.jdbi.v3.core.Handle;

/** What landing tables have, counted for comparisons with the ledger. */
public interface LandedTables {

  /**
   * The rows of one load and file.
   *
   * @param load the load
   * @param file the ledger's number of the file
   * @param rows how many rows there are
   * @param twice how many of them repeat the number of another one
   */
  record Posting(long load, long file, long rows, long twice) {}

  /** Postings in the order of load and file; closed after use. */
  interface Postings extends AutoCloseable {

    /** The next one, or null behind the last. */
    Posting next();

    @Override
    void close();
  }

  /**
   * The rows of a table.
   *
   * @param provenance whether only the rows of the feed's loads count, by their provenance
   */
  long rows(Handle ledger, TableName table, String feed, boolean provenance);

  /** The postings of a table with provenance. */
  Postings postings(Handle ledger, TableName table);

  /** The sum of a column over a feed's rows of files whose sum the ledger keeps. */
  BigDecimal total(Handle ledger, TableName table, String feed, String column);

  /** The number of rows whose provenance the ledger does not know as posted. */
  long strays(Handle ledger, TableName table);
}
