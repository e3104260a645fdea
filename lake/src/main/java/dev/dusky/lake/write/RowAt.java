package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.vector.ColumnVector;
import java.util.List;

/** A place in columns, with its provenance; the one thing that is handed from row to row. */
final class RowAt {

  /** The columns of the feed. */
  List<ColumnVector> columns;

  int row;
  long load;
  long file;
  private RowBatch batch;
  private long number;

  /** Rows of a batch follow. */
  void in(RowBatch of) {
    batch = of;
    columns = of.columns();
  }

  /** One row of other columns follows, which was this record of its file. */
  void in(List<ColumnVector> kept, int place, long record) {
    batch = null;
    columns = kept;
    row = place;
    number = record;
  }

  /** Which record of its file the row was. */
  long number() {
    return batch == null ? number : batch.recordNumber(row);
  }
}
