package dev.dusky.warehouses.h2;

import dev.dusky.core.tables.RowWriter;
import dev.dusky.warehouses.posting.GroupRows;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowWriting;
import java.sql.SQLException;
import java.util.function.LongFunction;

/** Rows get into H2 with prepared inserts in batches. */
public final class BatchWriting implements RowWriting {

  @Override
  public RowWriter writer(Posting posting) throws SQLException {
    return new BatchInsertWriter(posting);
  }

  @Override
  public GroupRows group(LongFunction<Posting> postings) {
    return new WrittenGroup(postings);
  }
}
