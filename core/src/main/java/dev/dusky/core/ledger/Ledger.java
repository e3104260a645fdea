package dev.dusky.core.ledger;

import java.util.List;
import java.util.Optional;

/**
 * The port to the ledger: loads, files, tallies, rejects and merges, in the schema {@code dusky}.
 */
public interface Ledger extends LoadLedger {

  /** Creates the schema or brings it up to date. Safe to call from several processes at once. */
  void prepare();

  /** Whether the schema exists. */
  boolean exists();

  /** Marks loads as interrupted whose process is gone, and returns their numbers. */
  List<Long> closeInterrupted();

  /** A posted file of a feed with this content. */
  Optional<FileEntry> twin(String feed, String fingerprint);

  /** What is in force of a file's path, in the order of loads. */
  List<PostedRows> inForce(String feed, String path);

  /** The history of loads, files, merges and drift. */
  Journal journal();

  /** The rejects. */
  RejectEntries rejects();

  /** Pauses, and how watching goes. */
  FeedEntries feeds();
}
