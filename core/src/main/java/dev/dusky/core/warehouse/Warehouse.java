package dev.dusky.core.warehouse;

import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.balance.Proofs;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.dispatch.Dispatcher;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.Ledger;
import dev.dusky.core.merge.Merges;
import dev.dusky.core.report.ReportEntries;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tidy.Tidying;
import java.util.List;
import java.util.Optional;

/**
 * A ledger and the tables that it describes, with what needs both. All methods throw a {@link
 * dev.dusky.core.failure.Failure} of kind WAREHOUSE that says what was refused.
 */
public interface Warehouse extends AutoCloseable {

  /** Its address for people, without secrets. */
  String place();

  /** The ledger. */
  Ledger ledger();

  /** The tables. */
  Tables tables();

  /** Merges of landed rows into targets. */
  Merges merges();

  /** Comparisons of the ledger with the tables. */
  Proofs proofs();

  /** The alerts of the ledger. */
  AlertEntries alerts();

  /** The figures of the ledger over a period. */
  ReportEntries report();

  /** Reversals of posted loads and files. */
  Reversals reversals();

  /** Promotions of fields to columns. */
  Promotions promotions();

  /** The rights that commands need here. */
  Grants grants();

  /** Keeps its tables tidy; none if they are a database's own affair. */
  default Optional<Tidying> tidying() {
    return Optional.empty();
  }

  /**
   * Attempts files on other machines.
   *
   * @throws dev.dusky.core.failure.Failure of kind CONFIGURATION if it has no engine for that
   */
  default Dispatcher dispatcher() {
    throw Failure.configuration("Files cannot be loaded on an engine here")
        .because("the tables are at " + place())
        .hint("That is for tables in object storage: run the load without --on");
  }

  /** Runs one SQL statement in a transaction. */
  void run(String sql, ResultTaker taker);

  /** The rights to try, one by one. */
  List<ProbeStep> probe();

  /** What can be said of a feed's table, where that is more than what {@code probe} tries. */
  default List<ProbeStep> probe(Feed feed) {
    return List.of();
  }

  /** Whether it lives in this process and only one process can use it at a time. */
  boolean embedded();

  /** Whether it can no longer be used in this process. */
  boolean lost();

  /** Closes its connection until it is needed again; other processes can use an embedded one. */
  void rest();

  @Override
  void close();
}
