package dev.dusky.lake;

import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableName;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.warehouses.proofs.LandedTables;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.exceptions.NotFoundException;
import org.apache.iceberg.io.CloseableIterable;
import org.jdbi.v3.core.Handle;
import org.roaringbitmap.longlong.Roaring64NavigableMap;

/**
 * Counts the rows of tables in object storage by reading their provenance columns, and for sums the
 * column; no other column is fetched. Deleted rows are left out as every reader leaves them out.
 */
final class LakeLandedTables implements LandedTables {

  private static final String POSTED =
      "select load_id, file_id from dusky.tally"
          + " where state in ('posted', 'mended') and reversed_by is null";

  private record Key(long load, long file) implements Comparable<Key> {
    @Override
    public int compareTo(Key other) {
      int byLoad = Long.compare(load, other.load);
      return byLoad != 0 ? byLoad : Long.compare(file, other.file);
    }
  }

  private final LakeCatalog catalog;
  private final LakeFailures failures;

  LakeLandedTables(LakeCatalog catalog, LakeFailures failures) {
    this.catalog = catalog;
    this.failures = failures;
  }

  private void read(Handle ledger, TableName name, List<String> columns, Consumer<Record> taker) {
    failures.run(
        "Reading the rows of " + name,
        () -> {
          Table table = catalog.table(ledger.getConnection(), name).orElseThrow();
          Schema wanted =
              columns.isEmpty()
                  ? new Schema(table.schema().columns().get(0))
                  : table.schema().select(columns);
          try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
            tasks.forEach(task -> read(table, task, wanted, taker));
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
          return null;
        });
  }

  private static void read(Table table, FileScanTask task, Schema columns, Consumer<Record> taker) {
    try (CloseableIterable<Record> rows = LiveRows.of(table, task, columns)) {
      rows.forEach(taker);
    } catch (NotFoundException e) {
      throw e;
    } catch (IOException | RuntimeException e) { // of the format's library, by no common type
      throw new IllegalStateException(
          "data file %s cannot be read".formatted(task.file().location()), e);
    }
  }

  private static Key key(Record row) {
    return new Key((long) row.getField(Provenance.LOAD), (long) row.getField(Provenance.FILE));
  }

  @Override
  public long rows(Handle ledger, TableName table, String feed, boolean provenance) {
    Set<Long> loads = loads(ledger, feed);
    long[] count = new long[1];
    List<String> columns = provenance ? List.of(Provenance.LOAD) : List.of();
    read(
        ledger,
        table,
        columns,
        row -> {
          if (!provenance || loads.contains((Long) row.getField(Provenance.LOAD))) {
            count[0]++;
          }
        });
    return count[0];
  }

  private static Set<Long> loads(Handle ledger, String feed) {
    return new HashSet<>(
        ledger
            .createQuery("select load_id from dusky.load where feed = :feed")
            .bind("feed", feed)
            .mapTo(Long.class)
            .list());
  }

  @Override
  public Postings postings(Handle ledger, TableName table) {
    Map<Key, Long> counts = new TreeMap<>();
    Map<Key, Roaring64NavigableMap> numbers = new HashMap<>();
    read(
        ledger,
        table,
        Provenance.COLUMNS,
        row -> {
          Key key = key(row);
          counts.merge(key, 1L, Long::sum);
          numbers
              .computeIfAbsent(key, k -> new Roaring64NavigableMap())
              .addLong((long) row.getField(Provenance.ROW));
        });
    List<Posting> postings = new ArrayList<>();
    counts.forEach(
        (key, rows) ->
            postings.add(
                new Posting(
                    key.load(), key.file(), rows, rows - numbers.get(key).getLongCardinality())));
    Iterator<Posting> all = postings.iterator();
    return new Postings() {
      @Override
      public Posting next() {
        return all.hasNext() ? all.next() : null;
      }

      @Override
      public void close() {}
    };
  }

  @Override
  public BigDecimal total(Handle ledger, TableName table, String feed, String column) {
    Set<Long> loads = loads(ledger, feed);
    Set<Key> kept =
        new HashSet<>(
            ledger
                .createQuery(
                    "select load_id, file_id from dusky.control_total where column_name = :column")
                .bind("column", column)
                .map((row, context) -> new Key(row.getLong("load_id"), row.getLong("file_id")))
                .list());
    BigDecimal[] sum = {BigDecimal.ZERO};
    read(
        ledger,
        table,
        List.of(Provenance.LOAD, Provenance.FILE, column),
        row -> {
          Object value = row.getField(column);
          if (value != null && loads.contains(key(row).load()) && kept.contains(key(row))) {
            sum[0] =
                sum[0].add(
                    value instanceof BigDecimal decimal
                        ? decimal
                        : BigDecimal.valueOf(((Number) value).longValue()));
          }
        });
    return sum[0];
  }

  @Override
  public long strays(Handle ledger, TableName table) {
    Set<Key> posted =
        new HashSet<>(
            ledger
                .createQuery(POSTED)
                .map((row, context) -> new Key(row.getLong("load_id"), row.getLong("file_id")))
                .list());
    long[] strays = new long[1];
    read(
        ledger,
        table,
        List.of(Provenance.LOAD, Provenance.FILE),
        row -> strays[0] += posted.contains(key(row)) ? 0 : 1);
    return strays[0];
  }
}
