package dev.dusky.warehouses.postgres;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.usage.Meter;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowRefusal;
import dev.dusky.warehouses.posting.ScratchTable;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.Arrays;
import java.util.Set;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/**
 * Writes rows into PostgreSQL with {@code COPY}, chunk by chunk, each behind a savepoint. While all
 * goes well rows stream straight into the table. When the table refuses a chunk, the chunk, whose
 * bytes are still at hand, goes into a {@link ScratchTable} to be judged there ({@link
 * ChunkPosting}); so do the chunks that follow, until one has no refusal.
 */
final class GuardedCopyWriter implements RowWriter {

  private static final int SEND_FROM = 128 << 10;

  /**
   * The first chunk is small, so that a table that refuses rows is known early; later ones grow.
   */
  private static final int FIRST_CHUNK = 1 << 20;

  private static final int CHUNK = 12 << 20;

  private final Posting posting;
  private final CopyRows rows;
  private final Refusals refusals;
  private final CopyBuffer buffer = new CopyBuffer(2 * SEND_FROM);
  private long[] numbers = new long[1 << 12];
  private int[] starts = new int[1 << 12];
  private int end;
  private int chunk = FIRST_CHUNK;
  private int count;
  private int sent;
  private CopyIn copy;
  private Savepoint before;
  private boolean refused;
  private ChunkPosting careful;
  private boolean carefully;
  private long written;

  GuardedCopyWriter(Posting posting) throws SQLException {
    this.posting = posting;
    this.rows = new CopyRows(posting);
    this.refusals = new Refusals(posting.feed().rejectCap());
    posting.dialect().checkAtOnce(posting.connection());
  }

  @Override
  public void write(RowBatch batch) {
    ColumnVector[] vectors = batch.columns().toArray(ColumnVector[]::new);
    try {
      for (int i = 0; i < batch.count(); i++) {
        int row = batch.selected(i);
        if (count == 0) {
          beginChunk();
        }
        note(batch.recordNumber(row));
        rows.put(buffer, batch, vectors, row);
        if (buffer.length() - sent >= SEND_FROM) {
          send();
          if (buffer.length() >= chunk) {
            endChunk();
          }
        }
      }
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  private void note(long recordNumber) {
    if (count == numbers.length) {
      numbers = Arrays.copyOf(numbers, count * 2);
      starts = Arrays.copyOf(starts, count * 2);
    }
    starts[count] = buffer.length();
    numbers[count++] = recordNumber;
  }

  private void beginChunk() throws SQLException {
    buffer.clear();
    CopyRows.begin(buffer);
    sent = 0;
    refused = false;
    if (!carefully) {
      before = posting.connection().setSavepoint();
      copy = startCopy(Identifiers.quote(posting.table().name()));
    }
  }

  private CopyIn startCopy(String table) throws SQLException {
    String sql = "copy %s (%s) from stdin (format binary)".formatted(table, rows.columns());
    return posting.connection().unwrap(PGConnection.class).getCopyAPI().copyIn(sql);
  }

  private void write(byte[] bytes, int from, int length) throws SQLException {
    Meter.waiting(
        () -> {
          copy.writeToCopy(bytes, from, length);
          return null;
        });
  }

  private void send() throws SQLException {
    if (carefully || refused) {
      return; // the whole chunk goes into the scratch table at its end
    }
    try {
      write(buffer.bytes(), sent, buffer.length() - sent);
      sent = buffer.length();
    } catch (SQLException e) {
      refuse(e);
    }
  }

  /** Notes that the table does not take the chunk as it is. */
  private void refuse(SQLException e) throws SQLException {
    if (!RowRefusal.is(e)) {
      throw e;
    }
    refused = true;
    posting.connection().rollback(before);
  }

  private void endChunk() throws SQLException {
    if (count == 0) {
      return;
    }
    end = buffer.length();
    CopyRows.end(buffer);
    send();
    if (!carefully && !refused) {
      try {
        long taken = Meter.waiting(copy::endCopy);
        if (taken == count) {
          posting.connection().releaseSavepoint(before);
          written += taken;
        } else { // a trigger leaves rows out
          refused = true;
          posting.connection().rollback(before);
        }
      } catch (SQLException e) {
        refuse(e);
      }
    }
    if (carefully || refused) {
      postCarefully();
    }
    count = 0;
    chunk = Math.min(CHUNK, chunk * 2);
  }

  private void postCarefully() throws SQLException {
    if (careful == null) {
      careful = new ChunkPosting(posting, rows.columns(), refusals);
    }
    careful.begin();
    copy = startCopy(ScratchTable.NAME);
    write(buffer.bytes(), 0, buffer.length());
    Meter.waiting(copy::endCopy);
    long taken = careful.post(numbers, count, this::sendWithout);
    written += taken;
    carefully = taken < count;
  }

  /** Sends the chunk straight into the table, without the rows of these numbers, from 1. */
  private void sendWithout(Set<Long> without) throws SQLException {
    copy = startCopy(Identifiers.quote(posting.table().name()));
    int from = 0;
    for (int row = 0; row < count; row++) {
      if (without.contains(row + 1L)) {
        write(buffer.bytes(), from, starts[row] - from);
        from = row + 1 < count ? starts[row + 1] : end;
      }
    }
    write(buffer.bytes(), from, buffer.length() - from);
    long taken = Meter.waiting(copy::endCopy);
    if (taken != count - without.size()) {
      throw new SQLException("a trigger of the table drops rows", RowRefusal.LEFT_OUT);
    }
  }

  @Override
  public long finish() {
    try {
      endChunk();
      return written;
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  @Override
  public Refusals refusals() {
    return refusals;
  }

  @Override
  public void close() {
    try {
      if (copy != null && copy.isActive()) {
        copy.cancelCopy();
      }
    } catch (SQLException e) {
      // The server confirms the cancellation with an error, or is gone; the rollback follows.
      org.slf4j.LoggerFactory.getLogger(GuardedCopyWriter.class)
          .debug("cancelling the writing into {}", posting.table().name(), e);
    }
  }
}
