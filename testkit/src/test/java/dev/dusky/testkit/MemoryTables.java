package dev.dusky.testkit;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.GroupChange;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Tables;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tables.Trial;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.VectorText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/** Tables in memory. Landed rows are read back as whole numbers and text only. */
public final class MemoryTables implements Tables {

  private static final SqlType BIGINT = SqlType.of(TypeKind.BIGINT);

  private final Object monitor;
  private final Faults faults;
  private final Map<TableName, TableShape> shapes = new HashMap<>();
  private final Map<TableName, List<MemoryRow>> rows = new HashMap<>();
  private Predicate<Map<String, String>> refusing = values -> false;
  private int concurrency = 1;
  private boolean rigid;

  MemoryTables(Object monitor, Faults faults) {
    this.monitor = monitor;
    this.faults = faults;
  }

  /** From now on the tables refuse rows with such values. */
  public void refuse(Predicate<Map<String, String>> values) {
    refusing = values;
  }

  /** From now on that many files may be written at the same time. */
  public void concurrency(int files) {
    concurrency = files;
  }

  /** From now on tables cannot be altered. */
  public void rigid() {
    rigid = true;
  }

  /** The committed rows of a table, in the order in which they were committed. */
  public List<MemoryRow> rows(TableName table) {
    synchronized (monitor) {
      return List.copyOf(rows.getOrDefault(table, List.of()));
    }
  }

  @Override
  public Optional<TableShape> shape(TableName table) {
    synchronized (monitor) {
      faults.step("Reading " + table);
      return Optional.ofNullable(shapes.get(table));
    }
  }

  @Override
  public void create(TableName table, List<FeedColumn> columns) {
    synchronized (monitor) {
      faults.step("Creating " + table);
      List<TableColumn> made = new ArrayList<>();
      for (FeedColumn column : columns) {
        made.add(column(column.name(), column.type(), column.notNull()));
      }
      Provenance.COLUMNS.forEach(name -> made.add(column(name, BIGINT, true)));
      shapes.putIfAbsent(table, new TableShape(table, made));
    }
  }

  private static TableColumn column(String name, SqlType type, boolean notNull) {
    return new TableColumn(name, Optional.of(type), type.toString(), notNull, false);
  }

  @Override
  public String createStatement(TableName table, List<FeedColumn> columns) {
    return "create table " + table;
  }

  @Override
  public boolean writable(TableName table) {
    return true;
  }

  @Override
  public List<TableRule> rules(TableName table) {
    return List.of();
  }

  @Override
  public int concurrency(TableName table) {
    return concurrency;
  }

  @Override
  public String addStatement(TableName table, GrownColumn column) {
    return "add " + column.name();
  }

  @Override
  public String widenStatement(TableName table, GrownColumn column) {
    return "widen " + column.name();
  }

  @Override
  public String addColumn(Transaction transaction, TableName table, GrownColumn column) {
    return alter(transaction, table, column, addStatement(table, column));
  }

  @Override
  public String widenColumn(Transaction transaction, TableName table, GrownColumn column) {
    return alter(transaction, table, column, widenStatement(table, column));
  }

  private String alter(
      Transaction transaction, TableName table, GrownColumn column, String statement) {
    synchronized (monitor) {
      faults.step("Changing " + table);
      if (rigid) {
        throw Failure.file("Table " + table + " cannot grow");
      }
      ((MemoryTransaction) transaction).add(() -> put(table, column));
      return statement;
    }
  }

  private void put(TableName table, GrownColumn column) {
    List<TableColumn> columns = new ArrayList<>(shapes.get(table).columns());
    columns.removeIf(c -> c.name().equals(column.name()));
    columns.add(column(column.name(), column.type(), false));
    shapes.put(table, new TableShape(table, columns));
  }

  @Override
  public long takeOut(Transaction transaction, TableName table, long loadId, long fileId) {
    synchronized (monitor) {
      faults.step("Removing rows from " + table);
      Predicate<MemoryRow> chosen = row -> row.load() == loadId && row.file() == fileId;
      ((MemoryTransaction) transaction).add(() -> rows.get(table).removeIf(chosen));
      return rows.getOrDefault(table, List.of()).stream().filter(chosen).count();
    }
  }

  @Override
  public LandingChange change(Transaction transaction, Landing landing, long loadId, long fileId) {
    return new Change((MemoryTransaction) transaction, landing, loadId, fileId);
  }

  @Override
  public GroupChange changes(Transaction transaction, Landing landing, long loadId) {
    return new Group((MemoryTransaction) transaction, landing, loadId);
  }

  @Override
  public FormerRows former() {
    throw new IllegalStateException("these tables keep no former rows");
  }

  @Override
  public Trial trial() {
    return new MemoryTransaction();
  }

  /** One file's rows. */
  private class Change implements LandingChange {

    final MemoryTransaction transaction;
    final Landing landing;
    final long load;
    final long file;

    Change(MemoryTransaction transaction, Landing landing, long load, long file) {
      this.transaction = transaction;
      this.landing = landing;
      this.load = load;
      this.file = file;
    }

    @Override
    public RowWriter writer() {
      faults.step("Writing into " + landing.table().name());
      return new Writer(this);
    }

    @Override
    public void hold() {
      faults.step("Holding " + landing.table().name());
    }

    @Override
    public void rows(List<String> columns, LandedRows taker) {
      faults.step("Reading the rows of " + landing.table().name());
      List<SqlType> types =
          columns.stream().map(c -> landing.feed().column(c).orElseThrow().type()).toList();
      List<ColumnVector> vectors = types.stream().map(ColumnVector::of).toList();
      for (MemoryRow row : MemoryTables.this.rows(landing.table().name())) {
        for (int i = 0; i < columns.size(); i++) {
          vectors.get(i).reset(1);
          set(vectors.get(i), row.values().get(columns.get(i)));
        }
        taker.take(row.file(), row.record(), vectors, 0);
      }
    }

    @Override
    public void undo() {}
  }

  private static void set(ColumnVector vector, String value) {
    if (value == null) {
      vector.setNull(0);
    } else if (vector instanceof LongVector longs) {
      longs.set(0, Long.parseLong(value));
    } else {
      byte[] bytes = value.getBytes(StandardCharsets.UTF_8);
      ((BytesVector) vector).set(0, bytes, 0, bytes.length);
    }
  }

  /** Small files together. */
  private final class Group implements GroupChange {

    private final MemoryTransaction transaction;
    private final Landing landing;
    private final long load;
    private boolean refused;

    Group(MemoryTransaction transaction, Landing landing, long load) {
      this.transaction = transaction;
      this.landing = landing;
      this.load = load;
    }

    @Override
    public LandingChange of(long fileId) {
      Trial.Mark before = transaction.mark();
      return new Change(transaction, landing, load, fileId) {
        @Override
        public RowWriter writer() {
          faults.step("Writing into " + landing.table().name());
          return new Writer(this) {
            @Override
            public long finish() {
              refused |= refusals().count() > 0;
              return super.finish();
            }
          };
        }

        @Override
        public void undo() {
          transaction.undo(before);
        }
      };
    }

    @Override
    public boolean send() {
      faults.step("Sending rows of " + landing.table().name());
      return !refused;
    }
  }

  /** Collects rows until the transaction commits. */
  private class Writer implements RowWriter {

    private final Change change;
    private final Refusals refusals = new Refusals(1_000);
    private final List<MemoryRow> written = new ArrayList<>();

    Writer(Change change) {
      this.change = change;
    }

    @Override
    public void write(RowBatch batch) {
      faults.step("Writing into " + change.landing.table().name());
      for (int i = 0; i < batch.count(); i++) {
        int row = batch.selected(i);
        Map<String, String> values = new LinkedHashMap<>();
        List<FeedColumn> columns = change.landing.feed().columns();
        for (int c = 0; c < columns.size(); c++) {
          ColumnVector vector = batch.columns().get(c);
          if (!vector.isNull(row)) {
            values.put(columns.get(c).name(), VectorText.text(columns.get(c).type(), vector, row));
          }
        }
        if (refusing.test(values)) {
          refusals.add(
              batch.recordNumber(row),
              List.of(new Problem(RejectCode.REFUSED_BY_TABLE, "", "", "the table refuses it")));
        } else {
          written.add(new MemoryRow(change.load, change.file, batch.recordNumber(row), values));
        }
      }
    }

    @Override
    public long finish() {
      faults.step("Completing " + change.landing.table().name());
      TableName table = change.landing.table().name();
      List<MemoryRow> all = List.copyOf(written);
      change.transaction.add(() -> rows.computeIfAbsent(table, t -> new ArrayList<>()).addAll(all));
      return all.size();
    }

    @Override
    public Refusals refusals() {
      return refusals;
    }

    @Override
    public void close() {}
  }
}
