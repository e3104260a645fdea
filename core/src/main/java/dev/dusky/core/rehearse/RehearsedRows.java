package dev.dusky.core.rehearse;

import dev.dusky.core.tables.AdoptedRows;
import java.util.List;

/** Rows that other machines have written and that are removed in place of becoming a table's. */
record RehearsedRows(AdoptedRows real) implements AdoptedRows {

  @Override
  public String table() {
    return real.table();
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
