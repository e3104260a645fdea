package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Table;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.parquet.Parquet;

/**
 * Writes rows into new data files of a table, each of about {@link #TARGET_BYTES}. The files belong
 * to the table only after a commit that names them; until then {@link #discard} removes them.
 */
public final class DataFiles {

  /** A data file is closed once it has this size. */
  static final long TARGET_BYTES = 256L << 20;

  private final Table table;
  private final Feed feed;
  private final long target;
  private final RowAt at = new RowAt();
  private final List<DataFile> done = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();
  private DataWriter<RowAt> open;

  /** New data files of that table for rows of a feed. */
  public DataFiles(Table table, Feed feed) {
    this(table, feed, TARGET_BYTES);
  }

  DataFiles(Table table, Feed feed, long target) {
    this.table = table;
    this.feed = feed;
    this.target = target;
  }

  /** Writes one row of a batch with its provenance. */
  public void write(RowBatch batch, int row, long load, long file) {
    if (open == null) {
      open = next();
    }
    at.batch = batch;
    at.row = row;
    at.load = load;
    at.file = file;
    open.write(at);
  }

  /** Ends the current data file if it is large enough; called between batches. */
  public void batchDone() {
    if (open != null && open.length() >= target) {
      end();
    }
  }

  private DataWriter<RowAt> next() {
    String location = table.locationProvider().newDataLocation(UUID.randomUUID() + ".parquet");
    locations.add(location);
    OutputFile out = table.io().newOutputFile(location);
    try {
      return Parquet.writeData(out)
          .forTable(table)
          .withSpec(PartitionSpec.unpartitioned())
          .createWriterFunc(form -> new CellWriters(form, feed))
          .build();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void end() {
    try {
      open.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    done.add(open.toDataFile());
    open = null;
  }

  /** Ends writing and gives the data files; none if there were no rows. */
  public List<DataFile> finish() {
    if (open != null) {
      end();
    }
    return List.copyOf(done);
  }

  /** Removes what was written. */
  public void discard() {
    if (open != null) {
      try {
        open.close();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      } finally {
        open = null;
      }
    }
    locations.forEach(table.io()::deleteFile);
    locations.clear();
    done.clear();
  }
}
