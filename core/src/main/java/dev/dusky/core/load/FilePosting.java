package dev.dusky.core.load;

import dev.dusky.core.ledger.FileClaim;
import dev.dusky.core.ledger.RowRemoval;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Tables;

/**
 * The two halves of posting a file, which commit together.
 *
 * @param claim the file's entry in the ledger
 * @param change its rows in the landing table
 * @param removal deletes rows that were posted of the file before
 */
record FilePosting(FileClaim claim, LandingChange change, RowRemoval removal) {

  /** The posting of a claimed file. */
  static FilePosting of(FileClaim claim, Tables tables, Landing landing, long loadId) {
    return new FilePosting(
        claim,
        tables.change(claim.transaction(), landing, loadId, claim.fileId()),
        (load, file) -> tables.takeOut(claim.transaction(), landing.table().name(), load, file));
  }

  /** Undoes the rows but keeps the claim; false if another load has settled the file meanwhile. */
  boolean undo() {
    change.undo();
    return claim.renew();
  }
}
