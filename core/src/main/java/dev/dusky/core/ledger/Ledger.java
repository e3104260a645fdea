package dev.dusky.core.ledger;

import java.util.List;

/**
 * The port to the ledger: loads, files, tallies, rejects and merges, in the schema {@code dusky}.
 */
public interface Ledger extends LoadLedger {

  /** Creates the schema or brings it up to date. Safe to call from several processes at once. */
  void prepare();

  /** Marks loads as interrupted whose process is gone, and returns their numbers. */
  List<Long> closeInterrupted();

  /** The history of loads, files, merges and drift. */
  Journal journal();

  /** The rejects. */
  RejectEntries rejects();

  /** The stagings of sources. */
  SourceRuns sources();

  /** Pauses, and the state of watching. */
  FeedEntries feeds();
}
