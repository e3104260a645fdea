package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.SortField;
import dev.dusky.lake.type.LakeSorting;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.IntConsumer;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.PartitionKey;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.apache.iceberg.TableProperties;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.parquet.Parquet;

/**
 * Writes rows into new data files, one at a time for each partition. In a table that is sorted the
 * rows are kept in memory first, and each data file has those that were sorted together. All stay
 * open while their rows take less than {@link #MOST_BYTES} of memory; then the largest are closed.
 * Used by one thread at a time.
 */
final class DataLane {

  /** What the values in all open files of a divided table may take in memory. */
  static final long MOST_BYTES = Math.min(1L << 30, Runtime.getRuntime().maxMemory() / 6);

  /** The maximum number of open files: each has half a megabyte of buffers. */
  static final int MOST_OPEN = (int) Math.min(1024, Runtime.getRuntime().maxMemory() / (2L << 20));

  /** The maximum number of data files that the rows of one file, or of one group, make. */
  static final int MOST_FILES = 10_000;

  private static final String DICTIONARY =
      TableProperties.PARQUET_DICT_ENCODING_ENABLED_COLUMN_PREFIX;

  private final Table table;
  private final Feed feed;
  private final long target;
  private final RowAt at = new RowAt();
  private final RowValues values;
  private final PartitionKey key;
  private final boolean divided;
  private final List<DataFile> done = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();
  private final Map<PartitionKey, Part> open = new HashMap<>();
  private final Optional<SortedRows> sorted;
  private DataWriter<RowAt> only;
  private List<String> rare;
  private long held;

  /** The open file of a partition, and about what its values take. */
  private static final class Part {
    private final DataWriter<RowAt> writer;
    private long held;

    Part(DataWriter<RowAt> writer) {
      this.writer = writer;
    }
  }

  DataLane(Table table, Feed feed, long target) {
    this.table = table;
    this.feed = feed;
    this.target = target;
    this.values = new RowValues(table.schema(), feed, at);
    this.key = new PartitionKey(table.spec(), table.schema());
    this.divided = table.spec().isPartitioned();
    List<SortField> by = LakeSorting.fields(table.schema(), table.sortOrder());
    this.sorted =
        SortedRows.possible(feed, by)
            ? Optional.of(new SortedRows(feed, by, SortedRows.MOST_BYTES))
            : Optional.empty();
  }

  /**
   * Writes rows of a batch with their provenance.
   *
   * @param rows the rows' places in the batch
   * @param from the first of them to write
   * @param to the end of those to write
   */
  void write(RowBatch batch, int[] rows, int from, int to, long load, long file) {
    at.in(batch);
    at.load = load;
    at.file = file;
    if (rare == null) {
      rare = Repetition.rare(feed, at.columns, rows, from, to);
    }
    if (sorted.isPresent()) {
      keep(batch, rows, from, to, load, file);
    } else if (divided) {
      divide(rows, from, to, row -> at.row = row);
    } else {
      only = only == null ? next(key) : only;
      for (int i = from; i < to; i++) {
        at.row = rows[i];
        only.write(at);
      }
    }
    endLarge();
  }

  /** Writes the rows of one partition after the other: its buffers are in the processor's cache. */
  private void divide(int[] rows, int from, int to, IntConsumer go) {
    Map<PartitionKey, List<Integer>> parts = new LinkedHashMap<>();
    for (int i = from; i < to; i++) {
      go.accept(rows[i]);
      key.partition(values);
      List<Integer> part = parts.get(key);
      if (part == null) {
        part = new ArrayList<>();
        parts.put(key.copy(), part);
      }
      part.add(rows[i]);
    }
    parts.forEach(
        (partition, part) -> {
          Part into = part(partition);
          long bytes = 0;
          for (int row : part) {
            go.accept(row);
            into.writer.write(at);
            bytes += values.bytes();
          }
          into.held += bytes;
          held += bytes;
        });
  }

  private void keep(RowBatch batch, int[] rows, int from, int to, long load, long file) {
    SortedRows kept = sorted.orElseThrow();
    for (int i = from; i < to; i++) {
      at.row = rows[i];
      kept.add(at);
      if (kept.isFull()) {
        writeSorted();
        at.in(batch);
        at.load = load;
        at.file = file;
      }
    }
  }

  /** Writes the rows that are kept into data files that are sorted as a whole. */
  private void writeSorted() {
    SortedRows kept = sorted.orElseThrow();
    if (kept.isEmpty()) {
      return;
    }
    int[] order = kept.order();
    if (divided) {
      divide(order, 0, order.length, place -> kept.go(at, place));
    } else {
      only = next(key);
      for (int place : order) {
        kept.go(at, place);
        only.write(at);
      }
    }
    kept.clear();
    endAll();
  }

  private void endAll() {
    if (only != null) {
      end(only);
      only = null;
    }
    open.values().forEach(part -> end(part.writer));
    open.clear();
    held = 0;
  }

  private Part part(PartitionKey partition) {
    Part part = open.get(partition);
    if (part == null) {
      if (open.size() >= MOST_OPEN) {
        endLargest();
      }
      part = new Part(next(partition));
      open.put(partition, part);
    }
    return part;
  }

  private void endLarge() {
    if (only != null && only.length() >= target) {
      end(only);
      only = null;
    }
    if (held > MOST_BYTES) {
      endLargest();
    }
  }

  /** Ends a quarter of the open files, those with most rows: their data files are the best. */
  private void endLargest() {
    List<PartitionKey> largest =
        open.entrySet().stream()
            .sorted(
                Comparator.comparingLong((Map.Entry<PartitionKey, Part> e) -> -e.getValue().held))
            .limit(Math.max(1, open.size() / 4))
            .map(Map.Entry::getKey)
            .toList();
    for (PartitionKey partition : largest) {
      Part part = open.remove(partition);
      held -= part.held;
      end(part.writer);
    }
  }

  private DataWriter<RowAt> next(PartitionKey partition) {
    if (locations.size() == MOST_FILES) {
      throw Failure.file("The rows belong to too many partitions of " + table.name())
          .because("they would make more than %,d data files".formatted(MOST_FILES))
          .hint(
              "Divide the table more coarsely, sort the file by the partition, or give this process"
                  + " more memory, so that more data files can be open at the same time");
    }
    String name = UUID.randomUUID() + ".parquet";
    String location =
        divided
            ? table.locationProvider().newDataLocation(table.spec(), partition, name)
            : table.locationProvider().newDataLocation(name);
    locations.add(location);
    OutputFile out = table.io().newOutputFile(location);
    try {
      Parquet.DataWriteBuilder builder = Parquet.writeData(out).forTable(table);
      rare.forEach(column -> builder.set(DICTIONARY + column, "false"));
      return builder
          .withSpec(table.spec())
          .withPartition(partition)
          .withSortOrder(sorted.isPresent() ? table.sortOrder() : SortOrder.unsorted())
          .createWriterFunc(form -> new CellWriters(form, table.schema(), feed))
          .build();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void end(DataWriter<RowAt> writer) {
    try {
      writer.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    done.add(writer.toDataFile());
  }

  /** Ends writing and gives the data files; none if there were no rows. */
  List<DataFile> finish() {
    if (sorted.isPresent()) {
      writeSorted();
    }
    endAll();
    return List.copyOf(done);
  }

  /** Removes what was written. */
  void discard() {
    try {
      if (only != null) {
        only.close();
      }
      for (Part part : open.values()) {
        part.writer.close();
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      only = null;
      open.clear();
    }
    locations.forEach(table.io()::deleteFile);
    locations.clear();
    done.clear();
  }
}
