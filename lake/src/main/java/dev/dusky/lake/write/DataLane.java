package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.PartitionKey;
import org.apache.iceberg.Table;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.parquet.Parquet;

/**
 * Writes rows into new data files, one at a time for each partition. Of many partitions the {@link
 * #MOST_OPEN} that had rows last have an open file. Used by one thread at a time.
 */
final class DataLane {

  /** The maximum number of open files: each has a group of rows in memory. */
  static final int MOST_OPEN = 16;

  private final Table table;
  private final Feed feed;
  private final long target;
  private final RowAt at = new RowAt();
  private final RowValues values;
  private final PartitionKey key;
  private final boolean divided;
  private final List<DataFile> done = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();
  private final Map<PartitionKey, DataWriter<RowAt>> open = new LinkedHashMap<>(16, 0.75f, true);
  private DataWriter<RowAt> only;

  DataLane(Table table, Feed feed, long target) {
    this.table = table;
    this.feed = feed;
    this.target = target;
    this.values = new RowValues(table.schema(), feed, at);
    this.key = new PartitionKey(table.spec(), table.schema());
    this.divided = table.spec().isPartitioned();
  }

  /**
   * Writes rows of a batch with their provenance.
   *
   * @param rows the rows' places in the batch
   * @param from the first of them to write
   * @param to the end of those to write
   */
  void write(RowBatch batch, int[] rows, int from, int to, long load, long file) {
    at.batch = batch;
    at.load = load;
    at.file = file;
    for (int i = from; i < to; i++) {
      at.row = rows[i];
      writer().write(at);
    }
    endLarge();
  }

  private DataWriter<RowAt> writer() {
    if (!divided) {
      only = only == null ? next(key) : only;
      return only;
    }
    key.partition(values);
    DataWriter<RowAt> writer = open.get(key);
    if (writer == null) {
      if (open.size() == MOST_OPEN) {
        PartitionKey eldest = open.keySet().iterator().next();
        end(open.remove(eldest));
      }
      PartitionKey copy = key.copy();
      writer = next(copy);
      open.put(copy, writer);
    }
    return writer;
  }

  private void endLarge() {
    if (only != null && only.length() >= target) {
      end(only);
      only = null;
    }
    open.values()
        .removeIf(
            writer -> {
              boolean full = writer.length() >= target;
              if (full) {
                end(writer);
              }
              return full;
            });
  }

  private DataWriter<RowAt> next(PartitionKey partition) {
    String name = UUID.randomUUID() + ".parquet";
    String location =
        divided
            ? table.locationProvider().newDataLocation(table.spec(), partition, name)
            : table.locationProvider().newDataLocation(name);
    locations.add(location);
    OutputFile out = table.io().newOutputFile(location);
    try {
      return Parquet.writeData(out)
          .forTable(table)
          .withSpec(table.spec())
          .withPartition(partition)
          .createWriterFunc(form -> new CellWriters(form, feed))
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
    if (only != null) {
      end(only);
      only = null;
    }
    open.values().forEach(this::end);
    open.clear();
    return List.copyOf(done);
  }

  /** Removes what was written. */
  void discard() {
    try {
      if (only != null) {
        only.close();
      }
      for (DataWriter<RowAt> writer : open.values()) {
        writer.close();
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
