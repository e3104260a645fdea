package dev.dusky.warehouses.postgres;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.usage.Meter;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.GroupRows;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowRefusal;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.function.LongFunction;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/**
 * Rows of small files kept in the form of {@code COPY} until many of them are sent at once. Only
 * whole files are sent, so that the current one can still be taken back.
 */
final class CopiedGroup implements GroupRows {

  /** Between files, rows are sent once this many bytes are buffered, whatever is still to come. */
  private static final int SEND_FROM = 8 << 20;

  private final LongFunction<Posting> postings;
  private final CopyBuffer buffer = new CopyBuffer(1 << 20);
  private Posting posting;
  private CopyRows rows;
  private int mark;
  private long countAtMark;
  private long count;
  private boolean refused;

  /** A group; {@code postings} gives what a file's writer needs to know. */
  CopiedGroup(LongFunction<Posting> postings) {
    this.postings = postings;
    CopyRows.begin(buffer);
  }

  @Override
  public RowWriter file(long fileId) throws SQLException {
    if (buffer.length() >= SEND_FROM) {
      send();
    }
    posting = postings.apply(fileId);
    mark = buffer.length();
    countAtMark = count;
    rows = rows == null ? new CopyRows(posting) : rows.of(posting);
    return new Keeping(rows);
  }

  @Override
  public void undoFile() {
    buffer.cut(mark);
    count = countAtMark;
  }

  @Override
  public boolean send() throws SQLException {
    if (count == 0 || refused) {
      return !refused;
    }
    CopyRows.end(buffer);
    posting.dialect().checkAtOnce(posting.connection());
    Savepoint before = posting.connection().setSavepoint();
    refused = !taken();
    if (refused) {
      posting.connection().rollback(before);
    }
    buffer.clear();
    CopyRows.begin(buffer);
    count = 0;
    return !refused;
  }

  /** Whether the table takes all that is kept. */
  private boolean taken() throws SQLException {
    String sql =
        "copy %s (%s) from stdin (format binary)"
            .formatted(Identifiers.quote(posting.table().name()), rows.columns());
    CopyIn copy = posting.connection().unwrap(PGConnection.class).getCopyAPI().copyIn(sql);
    try {
      return Meter.waiting(
          () -> {
            copy.writeToCopy(buffer.bytes(), 0, buffer.length());
            return copy.endCopy() == count;
          });
    } catch (SQLException e) {
      if (RowRefusal.is(e)) {
        return false;
      }
      throw e;
    } finally {
      if (copy.isActive()) {
        copy.cancelCopy();
      }
    }
  }

  private final class Keeping implements RowWriter {
    private final CopyRows encoded;
    private final long before = count;

    Keeping(CopyRows encoded) {
      this.encoded = encoded;
    }

    @Override
    public void write(RowBatch batch) {
      ColumnVector[] vectors = batch.columns().toArray(ColumnVector[]::new);
      for (int i = 0; i < batch.count(); i++) {
        encoded.put(buffer, batch, vectors, batch.selected(i));
        count++;
      }
    }

    @Override
    public long finish() {
      return count - before;
    }

    @Override
    public Refusals refusals() {
      return new Refusals(0);
    }

    @Override
    public void close() {
      // What is kept is sent or dropped with the group.
    }
  }
}
