package dev.dusky.warehouses;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.core.warehouse.Provenance;
import dev.dusky.core.warehouse.RowWriter;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Writes rows with a prepared insert in batches. Hot. */
final class BatchInsertWriter implements RowWriter {

  private static final int BATCH = 5_000;

  /** Hands one column's value to the statement. */
  @FunctionalInterface
  private interface Setter {
    void set(PreparedStatement insert, int parameter, ColumnVector vector, int row)
        throws SQLException;
  }

  private final Posting posting;
  private final PreparedStatement insert;
  private final Setter[] setters;
  private final boolean provenance;
  private int pending;
  private long written;

  BatchInsertWriter(Posting posting) throws SQLException {
    this.posting = posting;
    Feed feed = posting.feed();
    this.provenance = posting.table().hasProvenance();
    this.setters = feed.columns().stream().map(BatchInsertWriter::setter).toArray(Setter[]::new);
    List<String> names = new ArrayList<>(feed.columns().stream().map(FeedColumn::name).toList());
    List<String> values = new ArrayList<>(feed.columns().stream().map(this::placeholder).toList());
    if (provenance) {
      names.addAll(Provenance.COLUMNS);
      values.addAll(List.of(Long.toString(posting.load()), Long.toString(posting.file()), "?"));
    }
    String sql =
        "insert into %s (%s) values (%s)"
            .formatted(
                Identifiers.quote(posting.table().name()),
                names.stream().map(Identifiers::quote).collect(Collectors.joining(", ")),
                String.join(", ", values));
    this.insert = posting.connection().prepareStatement(sql);
  }

  private String placeholder(FeedColumn column) {
    return column.type().kind() == TypeKind.JSON ? "? format json" : "?";
  }

  private static Setter setter(FeedColumn column) {
    return switch (column.type().kind()) {
      case BOOLEAN -> (s, p, v, r) -> s.setBoolean(p, ((LongVector) v).get(r) != 0);
      case SMALLINT, INTEGER, BIGINT -> (s, p, v, r) -> s.setLong(p, ((LongVector) v).get(r));
      case DECIMAL -> (s, p, v, r) -> s.setBigDecimal(p, ((DecimalVector) v).get(r));
      case REAL, DOUBLE -> (s, p, v, r) -> s.setDouble(p, ((DoubleVector) v).get(r));
      case CHAR, VARCHAR, TEXT -> (s, p, v, r) -> s.setString(p, ((BytesVector) v).text(r));
      case JSON, BINARY -> (s, p, v, r) -> s.setBytes(p, ((BytesVector) v).bytes(r));
      case UUID -> (s, p, v, r) -> s.setObject(p, ((UuidVector) v).get(r));
      case DATE -> (s, p, v, r) -> s.setObject(p, LocalDate.ofEpochDay(((LongVector) v).get(r)));
      case TIME ->
          (s, p, v, r) -> s.setObject(p, LocalTime.ofNanoOfDay(((LongVector) v).get(r) * 1000));
      case TIMESTAMP -> (s, p, v, r) -> s.setObject(p, local(((LongVector) v).get(r)));
      case TIMESTAMP_TZ ->
          (s, p, v, r) -> s.setObject(p, local(((LongVector) v).get(r)).atOffset(ZoneOffset.UTC));
    };
  }

  private static LocalDateTime local(long micros) {
    long seconds = Math.floorDiv(micros, 1_000_000L);
    int nanos = (int) Math.floorMod(micros, 1_000_000L) * 1000;
    return LocalDateTime.ofEpochSecond(seconds, nanos, ZoneOffset.UTC);
  }

  @Override
  public void write(RowBatch batch) {
    try {
      List<ColumnVector> columns = batch.columns();
      for (int i = 0; i < batch.count(); i++) {
        int row = batch.selected(i);
        for (int c = 0; c < setters.length; c++) {
          ColumnVector vector = columns.get(c);
          if (vector.isNull(row)) {
            insert.setObject(c + 1, null);
          } else {
            setters[c].set(insert, c + 1, vector, row);
          }
        }
        if (provenance) {
          insert.setLong(setters.length + 1, batch.recordNumber(row));
        }
        insert.addBatch();
        if (++pending == BATCH) {
          flush();
        }
      }
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  private void flush() throws SQLException {
    for (int count : insert.executeBatch()) {
      written += Math.max(count, 0);
    }
    pending = 0;
  }

  @Override
  public long finish() {
    try {
      if (pending > 0) {
        flush();
      }
      return written;
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  @Override
  public void close() {
    if (posting.failures().lost()) {
      return;
    }
    try {
      insert.close();
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }
}
