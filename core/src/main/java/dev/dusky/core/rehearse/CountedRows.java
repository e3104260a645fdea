package dev.dusky.core.rehearse;

import dev.dusky.core.tables.AdoptedRows;
import java.util.List;

/** Rows that other machines only count, as there is no table to judge them. */
final class CountedRows implements AdoptedRows {

  @Override
  public String table() {
    return CountingTable.DESCRIPTION;
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
