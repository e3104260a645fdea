package dev.dusky.lake.tidy;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.RewriteFiles;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.GenericDeleteFilter;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.data.parquet.GenericParquetReaders;
import org.apache.iceberg.data.parquet.GenericParquetWriter;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.DataWriter;
import org.apache.iceberg.parquet.Parquet;
import org.apache.iceberg.util.ContentFileUtil;

/**
 * Rewrites the small data files of a table, and those with rows that are marked as deleted, into
 * large ones. The rows stay the same, and keep their provenance.
 */
final class Compaction {

  /** Data files below this size are small. */
  static final long SMALL = 64L << 20;

  /** New data files end behind this size. */
  static final long TARGET = 256L << 20;

  /** So few small files stay as they are. */
  static final int FEW = 4;

  private final Table table;
  private final List<FileScanTask> tasks = new ArrayList<>();
  private final List<DataFile> written = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();

  /** The compaction of a table as it is now. */
  Compaction(Table table) {
    this.table = table;
    if (!table.spec().isUnpartitioned()) {
      return;
    }
    try (CloseableIterable<FileScanTask> all = table.newScan().planFiles()) {
      for (FileScanTask task : all) {
        if (task.file().fileSizeInBytes() < SMALL || !task.deletes().isEmpty()) {
          tasks.add(task);
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    boolean deletes = tasks.stream().anyMatch(task -> !task.deletes().isEmpty());
    if (tasks.size() <= FEW && !deletes) {
      tasks.clear();
    }
  }

  /** How many data files are to be rewritten. */
  int small() {
    return tasks.size();
  }

  /** Rewrites them; returns how many there are now. */
  int run() {
    Snapshot before = table.currentSnapshot();
    try {
      write();
    } catch (IOException e) {
      discard();
      throw new UncheckedIOException(e);
    } catch (RuntimeException e) {
      discard();
      throw e;
    }
    RewriteFiles rewrite = table.newRewrite().validateFromSnapshot(before.snapshotId());
    Set<String> replaced = new HashSet<>();
    Set<String> dropped = new HashSet<>();
    for (FileScanTask task : tasks) {
      rewrite.deleteFile(task.file());
      replaced.add(task.file().location());
    }
    for (FileScanTask task : tasks) {
      for (DeleteFile deletes : task.deletes()) {
        String of = ContentFileUtil.referencedDataFileLocation(deletes);
        if (of != null && replaced.contains(of) && dropped.add(deletes.location())) {
          rewrite.deleteFile(deletes);
        }
      }
    }
    written.forEach(rewrite::addFile);
    rewrite.commit();
    return written.size();
  }

  private void write() throws IOException {
    DataWriter<Record> out = null;
    for (FileScanTask task : tasks) {
      GenericDeleteFilter filter =
          new GenericDeleteFilter(table.io(), task, table.schema(), table.schema());
      try (CloseableIterable<Record> rows = filter.filter(read(task, filter.requiredSchema()))) {
        for (Record row : rows) {
          out = out == null ? next() : out;
          out.write(row);
        }
      }
      if (out != null && out.length() >= TARGET) {
        end(out);
        out = null;
      }
    }
    if (out != null) {
      end(out);
    }
  }

  private CloseableIterable<Record> read(FileScanTask task, Schema columns) {
    return Parquet.read(table.io().newInputFile(task.file()))
        .project(columns)
        .createReaderFunc(form -> GenericParquetReaders.buildReader(columns, form))
        .build();
  }

  private DataWriter<Record> next() throws IOException {
    String location = table.locationProvider().newDataLocation(UUID.randomUUID() + ".parquet");
    locations.add(location);
    return Parquet.writeData(table.io().newOutputFile(location))
        .forTable(table)
        .withSpec(PartitionSpec.unpartitioned())
        .createWriterFunc(GenericParquetWriter::create)
        .build();
  }

  private void end(DataWriter<Record> out) throws IOException {
    out.close();
    written.add(out.toDataFile());
  }

  private void discard() {
    locations.forEach(table.io()::deleteFile);
  }
}
