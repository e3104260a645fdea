package dev.dusky.warehouses.posting;

import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import java.util.List;

/** The change that one file makes to its landing table. */
final class JdbcLandingChange implements LandingChange {

  private final Posting posting;
  private final RowWriting writing;

  JdbcLandingChange(Posting posting, RowWriting writing) {
    this.posting = posting;
    this.writing = writing;
  }

  private TableName table() {
    return posting.table().name();
  }

  @Override
  public RowWriter writer() {
    return posting
        .database()
        .run(
            posting.transaction().handle(),
            "Writing into " + table(),
            h -> writing.writer(posting));
  }

  @Override
  public void hold() {
    posting
        .database()
        .run(
            posting.transaction().handle(),
            "Holding " + table(),
            h -> {
              posting.dialect().holdLanding(h.getConnection(), table());
              return null;
            });
  }

  @Override
  public void rows(List<String> columns, LandedRows taker) {
    posting
        .database()
        .run(
            posting.transaction().handle(),
            "Reading the rows of " + table(),
            h -> {
              LandedReader.read(h.getConnection(), posting.landing(), columns, taker);
              return null;
            });
  }

  /** The claim rolls the whole transaction back. */
  @Override
  public void undo() {}
}
