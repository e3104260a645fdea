package dev.dusky.warehouses.h2;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.usage.Meter;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.posting.Posting;
import dev.dusky.warehouses.posting.RowRefusal;
import dev.dusky.warehouses.posting.ScratchTable;
import java.sql.BatchUpdateException;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.SortedMap;
import java.util.stream.Collectors;

/**
 * Writes rows with a prepared insert in batches. Of a batch the database takes all rows but those
 * that it refuses; these go into a {@link ScratchTable} to learn all the rules that they break.
 * Hot.
 */
final class BatchInsertWriter implements RowWriter {

  /** Hands one column's value to the statement. */
  @FunctionalInterface
  private interface Setter {
    void set(PreparedStatement insert, int parameter, ColumnVector vector, int row)
        throws SQLException;
  }

  private final Posting posting;
  private final Refusals refusals;
  private final PreparedStatement insert;
  private final Setter[] setters;
  private final boolean provenance;
  private List<TableRule> rules;
  private ScratchTable scratch;
  private long written;

  BatchInsertWriter(Posting posting) throws SQLException {
    this.posting = posting;
    this.refusals = new Refusals(posting.feed().rejectCap());
    Feed feed = posting.feed();
    this.provenance = posting.table().hasProvenance();
    this.setters = feed.columns().stream().map(BatchInsertWriter::setter).toArray(Setter[]::new);
    this.insert =
        posting
            .connection()
            .prepareStatement(statement(Identifiers.quote(posting.table().name()), false));
  }

  private String statement(String table, boolean numbered) {
    List<FeedColumn> columns = posting.feed().columns();
    List<String> names = new ArrayList<>(columns.stream().map(FeedColumn::name).toList());
    List<String> values = new ArrayList<>(columns.stream().map(this::placeholder).toList());
    if (provenance) {
      names.addAll(Provenance.COLUMNS);
      values.addAll(List.of(Long.toString(posting.load()), Long.toString(posting.file()), "?"));
    }
    String list = names.stream().map(Identifiers::quote).collect(Collectors.joining(", "));
    return "insert into %s (%s%s) values (%s%s)"
        .formatted(
            table,
            list,
            numbered ? ", " + ScratchTable.NUMBER : "",
            String.join(", ", values),
            numbered ? ", ?" : "");
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
    if (batch.count() == 0) {
      return;
    }
    try {
      for (int i = 0; i < batch.count(); i++) {
        bind(insert, batch, batch.selected(i));
        insert.addBatch();
      }
      flush(batch);
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }

  private void bind(PreparedStatement statement, RowBatch batch, int row) throws SQLException {
    List<ColumnVector> columns = batch.columns();
    for (int c = 0; c < setters.length; c++) {
      ColumnVector vector = columns.get(c);
      if (vector.isNull(row)) {
        statement.setObject(c + 1, null);
      } else {
        setters[c].set(statement, c + 1, vector, row);
      }
    }
    if (provenance) {
      statement.setLong(setters.length + 1, batch.recordNumber(row));
    }
  }

  private void flush(RowBatch batch) throws SQLException {
    try {
      Meter.waiting(insert::executeBatch);
      written += batch.count();
    } catch (BatchUpdateException e) {
      refuse(batch, e);
    }
  }

  /** The errors come in the order of the rows, or the other way round. */
  private void refuse(RowBatch batch, BatchUpdateException failure) throws SQLException {
    int[] counts = failure.getUpdateCounts();
    List<Integer> failed = new ArrayList<>();
    for (int i = 0; i < counts.length; i++) {
      if (counts[i] == Statement.EXECUTE_FAILED) {
        failed.add(i);
      }
    }
    Deque<SQLException> errors = new ArrayDeque<>();
    for (SQLException e = failure.getNextException(); e != null; e = e.getNextException()) {
      if (!RowRefusal.is(e)) {
        throw e;
      }
      errors.add(e);
    }
    if (failed.isEmpty() || errors.size() != failed.size()) {
      throw failure;
    }
    written += batch.count() - failed.size();
    explain(batch, failed, errors);
  }

  private void explain(RowBatch batch, List<Integer> failed, Deque<SQLException> errors)
      throws SQLException {
    if (scratch == null) {
      rules = posting.dialect().rules(posting.connection(), posting.table().name());
      scratch = new ScratchTable(posting, rules);
    }
    scratch.begin();
    List<Long> numbers = new ArrayList<>();
    try (PreparedStatement keep =
        posting.connection().prepareStatement(statement(ScratchTable.NAME, true))) {
      for (int i = 0; i < failed.size(); i++) {
        bind(keep, batch, batch.selected(failed.get(i)));
        keep.setLong(setters.length + (provenance ? 2 : 1), i + 1L);
        keep.addBatch();
        numbers.add(i + 1L);
      }
      Meter.waiting(keep::executeBatch);
    }
    SortedMap<Long, List<Problem>> problems = scratch.violations();
    scratch
        .takenKeys(numbers)
        .forEach(
            (number, keys) ->
                problems.computeIfAbsent(number, n -> new ArrayList<>()).addAll(keys));
    scratch.addTotals(numbers, refusals);
    for (int i = 0; i < failed.size(); i++) {
      SQLException error = errors.remove();
      List<Problem> known = problems.get(i + 1L);
      refusals.add(
          batch.recordNumber(batch.selected(failed.get(i))),
          known == null ? List.of(RowRefusal.problem(error, rules)) : known);
    }
  }

  @Override
  public long finish() {
    return written;
  }

  @Override
  public Refusals refusals() {
    return refusals;
  }

  @Override
  public void close() {
    if (posting.database().failures().lost()) {
      return;
    }
    try {
      insert.close();
    } catch (SQLException e) {
      throw posting.failed(e);
    }
  }
}
