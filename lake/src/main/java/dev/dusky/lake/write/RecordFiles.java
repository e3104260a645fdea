package dev.dusky.lake.write;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetWriter;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.io.PositionOutputStream;
import org.apache.iceberg.parquet.Parquet;

/**
 * Writes rows that a table has had before into new data files. As with {@link DataFiles}, they
 * belong to the table only after a commit that names them.
 */
public final class RecordFiles {

  private final Table table;
  private final List<DataFile> written = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();
  private DataFile like;
  private DataWriter<Record> open;
  private SortOrder order = SortOrder.unsorted();

  /** New data files of that table. */
  public RecordFiles(Table table) {
    this.table = table;
  }

  /** Writes a row. */
  public void write(Record row, DataFile from) {
    if (open != null && (!samePartition(from) || open.length() >= DataFiles.TARGET_BYTES)) {
      end();
    }
    if (open == null) {
      like = from;
      open = next();
    }
    open.write(row);
  }

  /** The rows that follow come in the order that the table says; they get data files apart. */
  public void beginSorted() {
    end();
    order = table.sortOrder();
  }

  /** The rows that follow come in no order. */
  public void endSorted() {
    end();
    order = SortOrder.unsorted();
  }

  private boolean samePartition(DataFile from) {
    return like.specId() == from.specId() && like.partition().equals(from.partition());
  }

  /** Takes a data file with all its rows, under a new name. */
  public void reuse(DataFile file) {
    String location = location(file);
    OutputFile out = table.io().newOutputFile(location);
    try (InputStream from = table.io().newInputFile(file).newStream();
        PositionOutputStream into = out.create()) {
      from.transferTo(into);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    written.add(
        org.apache.iceberg.DataFiles.builder(table.specs().get(file.specId()))
            .copy(file)
            .withPath(location)
            .build());
  }

  private String location(DataFile of) {
    String name = UUID.randomUUID() + ".parquet";
    String location =
        table.specs().get(of.specId()).isUnpartitioned()
            ? table.locationProvider().newDataLocation(name)
            : table
                .locationProvider()
                .newDataLocation(table.specs().get(of.specId()), of.partition(), name);
    locations.add(location);
    return location;
  }

  private DataWriter<Record> next() {
    try {
      return Parquet.writeData(table.io().newOutputFile(location(like)))
          .forTable(table)
          .withSpec(table.specs().get(like.specId()))
          .withPartition(like.partition())
          .withSortOrder(order)
          .createWriterFunc(GenericParquetWriter::create)
          .build();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void end() {
    if (open == null) {
      return;
    }
    try {
      open.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    written.add(open.toDataFile());
    open = null;
  }

  /** Ends writing and gives the data files. */
  public List<DataFile> finish() {
    end();
    return List.copyOf(written);
  }

  /** Removes what was written. */
  public void discard() {
    locations.forEach(table.io()::deleteFile);
  }
}
