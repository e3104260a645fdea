package dev.dusky.warehouses.postgres;

import dev.dusky.core.tables.RowWriter;
import dev.dusky.warehouses.posting.GroupRows;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowWriting;
import java.sql.SQLException;
import java.util.function.LongFunction;

/** Rows get into PostgreSQL through its COPY protocol in binary form. */
public final class CopyWriting implements RowWriting {

  @Override
  public RowWriter writer(Posting posting) throws SQLException {
    return new GuardedCopyWriter(posting);
  }

  @Override
  public GroupRows group(LongFunction<Posting> postings) {
    return new CopiedGroup(postings);
  }
}
