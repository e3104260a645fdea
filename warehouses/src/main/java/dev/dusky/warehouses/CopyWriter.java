package dev.dusky.warehouses;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.warehouse.Provenance;
import dev.dusky.core.warehouse.RowWriter;
import dev.dusky.core.warehouse.TableShape;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/** Writes rows through {@code COPY … FROM STDIN (FORMAT binary)}, encoded from the batch. Hot. */
final class CopyWriter implements RowWriter {

  private static final byte[] SIGNATURE =
      "PGCOPY\n\377\r\n\0".getBytes(StandardCharsets.ISO_8859_1);
  private static final int SEND_FROM = 128 << 10;

  private final Posting posting;
  private final CopyIn copy;
  private final CopyField[] fields;
  private final boolean provenance;
  private final CopyBuffer buffer = new CopyBuffer(SEND_FROM + (16 << 10));

  CopyWriter(Posting posting) throws SQLException {
    this.posting = posting;
    Feed feed = posting.feed();
    TableShape table = posting.table();
    this.provenance = table.hasProvenance();
    this.fields =
        feed.columns().stream()
            .map(column -> CopyField.of(table.column(column.name()).orElseThrow()))
            .toArray(CopyField[]::new);
    List<String> names = new ArrayList<>(feed.columns().stream().map(FeedColumn::name).toList());
    if (provenance) {
      names.addAll(Provenance.COLUMNS);
    }
    String sql =
        "copy %s (%s) from stdin (format binary)"
            .formatted(
                Identifiers.quote(table.name()),
                names.stream().map(Identifiers::quote).collect(Collectors.joining(", ")));
    this.copy = posting.connection().unwrap(PGConnection.class).getCopyAPI().copyIn(sql);
    for (byte b : SIGNATURE) {
      buffer.putByte(b);
    }
    buffer.putInt(0);
    buffer.putInt(0);
  }

  @Override
  public void write(RowBatch batch) {
    ColumnVector[] columns = batch.columns().toArray(ColumnVector[]::new);
    int count = fields.length + (provenance ? 3 : 0);
    try {
      for (int i = 0; i < batch.count(); i++) {
        int row = batch.selected(i);
        buffer.putShort(count);
        for (int c = 0; c < fields.length; c++) {
          ColumnVector column = columns[c];
          if (column.isNull(row)) {
            buffer.putInt(-1);
          } else {
            fields[c].put(buffer, column, row);
          }
        }
        if (provenance) {
          buffer.putLongField(posting.load());
          buffer.putLongField(posting.file());
          buffer.putLongField(batch.recordNumber(row));
        }
        if (buffer.length() >= SEND_FROM) {
          send();
        }
      }
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  private void send() throws SQLException {
    copy.writeToCopy(buffer.bytes(), 0, buffer.length());
    buffer.clear();
  }

  @Override
  public long finish() {
    try {
      buffer.putShort(-1);
      send();
      return copy.endCopy();
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  @Override
  public void close() {
    try {
      if (copy.isActive()) {
        copy.cancelCopy();
      }
    } catch (SQLException e) {
      // The server confirms the cancellation with an error, or is gone; the rollback follows.
      org.slf4j.LoggerFactory.getLogger(CopyWriter.class)
          .debug("cancelling the writing into {}", posting.table().name(), e);
    }
  }
}
