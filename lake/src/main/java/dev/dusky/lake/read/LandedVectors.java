package dev.dusky.lake.read;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.VectorValues;
import java.util.List;
import java.util.function.Consumer;
import org.apache.iceberg.data.Record;

/** Gives rows of a landing table as typed columns. */
public final class LandedVectors implements Consumer<Record> {

  /** Its columns come behind load, file and record. */
  private static final int PROVENANCE = 3;

  private final List<SqlType> types;
  private final List<ColumnVector> vectors;
  private final LandedRows taker;

  /** Rows that have these columns of a feed behind their provenance. */
  public LandedVectors(Feed feed, List<String> columns, LandedRows taker) {
    this.types = columns.stream().map(name -> feed.column(name).orElseThrow().type()).toList();
    this.vectors = types.stream().map(ColumnVector::of).toList();
    this.taker = taker;
  }

  @Override
  public void accept(Record row) {
    for (int i = 0; i < vectors.size(); i++) {
      VectorValues.set(types.get(i), vectors.get(i), row.get(i + PROVENANCE));
    }
    taker.take((long) row.get(1), (long) row.get(2), vectors, 0);
  }
}
