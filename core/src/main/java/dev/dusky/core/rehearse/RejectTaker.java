package dev.dusky.core.rehearse;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.reject.RejectSpool;

/** Takes the rejects of a file that is rehearsed, in place of the ledger. */
@FunctionalInterface
public interface RejectTaker {

  /** A file is done. The spool is gone afterwards. */
  void take(StagedFile file, FileOutcome outcome, RejectSpool rejects);
}
