package dev.dusky.warehouses.postgres;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.Posting;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Encodes rows in the form of {@code COPY … (FORMAT binary)}. Hot. */
final class CopyRows {

  private static final byte[] SIGNATURE =
      "PGCOPY\n\377\r\n\0".getBytes(StandardCharsets.ISO_8859_1);

  private final Posting posting;
  private final CopyField[] fields;
  private final boolean provenance;
  private final String columns;

  CopyRows(Posting posting) {
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
    this.columns = names.stream().map(Identifiers::quote).collect(Collectors.joining(", "));
  }

  private CopyRows(Posting posting, CopyRows like) {
    this.posting = posting;
    this.fields = like.fields;
    this.provenance = like.provenance;
    this.columns = like.columns;
  }

  /** The rows of another file, whose landing is mostly the same. */
  CopyRows of(Posting other) {
    return other.landing() == posting.landing() ? new CopyRows(other, this) : new CopyRows(other);
  }

  /** The columns of a row, quoted. */
  String columns() {
    return columns;
  }

  /** Writes what precedes the first row. */
  static void begin(CopyBuffer buffer) {
    for (byte b : SIGNATURE) {
      buffer.putByte(b);
    }
    buffer.putInt(0);
    buffer.putInt(0);
  }

  /** Writes what follows the last row. */
  static void end(CopyBuffer buffer) {
    buffer.putShort(-1);
  }

  /** Writes a row. */
  void put(CopyBuffer buffer, RowBatch batch, ColumnVector[] vectors, int row) {
    buffer.putShort(fields.length + (provenance ? 3 : 0));
    for (int c = 0; c < fields.length; c++) {
      ColumnVector vector = vectors[c];
      if (vector.isNull(row)) {
        buffer.putInt(-1);
      } else {
        fields[c].put(buffer, vector, row);
      }
    }
    if (provenance) {
      buffer.putLongField(posting.load());
      buffer.putLongField(posting.file());
      buffer.putLongField(batch.recordNumber(row));
    }
  }
}
