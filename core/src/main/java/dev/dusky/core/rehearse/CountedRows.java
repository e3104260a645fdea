package dev.dusky.core.rehearse;

import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.LandedPiece;
import java.util.List;
import java.util.Optional;

/**
 * Rows that other machines only count, as there is no table to judge them.
 *
 * @param real the rows of the table as it is, if there is one
 */
record CountedRows(Optional<AdoptedRows> real) implements AdoptedRows {

  @Override
  public String table() {
    return CountingTable.DESCRIPTION;
  }

  @Override
  public void hold() {
    real.ifPresent(AdoptedRows::hold);
  }

  @Override
  public List<LandedPiece> landed() {
    return real.map(AdoptedRows::landed).orElse(List.of());
  }

  @Override
  public void adopt(List<String> written) {
    // Nothing is written.
  }

  @Override
  public void drop(List<String> written) {
    // Nothing is written.
  }

  @Override
  public void send() {
    // Nothing is written.
  }

  @Override
  public void discard() {
    // Nothing is written.
  }
}
