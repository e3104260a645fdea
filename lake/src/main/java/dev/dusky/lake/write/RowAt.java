package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;

/** A place in a batch; the one thing that is handed from row to row. */
final class RowAt {

  RowBatch batch;
  int row;
  long load;
  long file;
}
