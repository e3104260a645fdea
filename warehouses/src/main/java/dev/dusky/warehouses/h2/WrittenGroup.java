package dev.dusky.warehouses.h2;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.warehouses.posting.GroupRows;
import dev.dusky.warehouses.posting.Posting;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.function.LongFunction;

/** Rows written at once, behind a savepoint for each file. */
final class WrittenGroup implements GroupRows {

  private final LongFunction<Posting> postings;
  private Posting posting;
  private Savepoint before;
  private boolean refused;

  /** A group; {@code postings} gives what a file's writer needs to know. */
  WrittenGroup(LongFunction<Posting> postings) {
    this.postings = postings;
  }

  @Override
  public RowWriter file(long fileId) throws SQLException {
    posting = postings.apply(fileId);
    before = posting.connection().setSavepoint();
    return new Noting(new BatchInsertWriter(posting));
  }

  @Override
  public void undoFile() throws SQLException {
    if (before != null) {
      posting.connection().rollback(before);
    }
  }

  @Override
  public boolean send() {
    return !refused;
  }

  /** Notes whether the table refuses a row: its file is then processed alone. */
  private final class Noting implements RowWriter {
    private final RowWriter writer;

    Noting(RowWriter writer) {
      this.writer = writer;
    }

    @Override
    public void write(RowBatch batch) {
      writer.write(batch);
    }

    @Override
    public long finish() {
      long rows = writer.finish();
      refused |= writer.refusals().count() > 0;
      return rows;
    }

    @Override
    public Refusals refusals() {
      return writer.refusals();
    }

    @Override
    public void close() {
      writer.close();
    }
  }
}
