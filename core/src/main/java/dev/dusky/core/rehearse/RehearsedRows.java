package dev.dusky.core.rehearse;

import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.LandedPiece;
import java.util.List;

/**
 * Rows that other machines have written and that are removed in place of becoming a table's.
 *
 * @param booked whether there is a ledger, and so others that change the table
 */
record RehearsedRows(AdoptedRows real, boolean booked) implements AdoptedRows {

  @Override
  public String table() {
    return real.table();
  }

  @Override
  public void hold() {
    if (booked) {
      real.hold();
    }
  }

  @Override
  public List<LandedPiece> landed() {
    return real.landed();
  }

  @Override
  public void adopt(List<String> written) {
    real.adopt(written);
  }

  @Override
  public void drop(List<String> written) {
    real.drop(written);
  }

  @Override
  public void send() {
    real.discard();
  }

  @Override
  public void discard() {
    real.discard();
  }
}
