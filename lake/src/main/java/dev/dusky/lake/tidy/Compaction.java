package dev.dusky.lake.tidy;

import dev.dusky.core.table.Provenance;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.lake.read.PostingBounds;
import dev.dusky.lake.write.RecordFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.RewriteFiles;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.util.ContentFileUtil;

/**
 * Rewrites the small data files of a table, and those with rows that are marked as deleted, into
 * large ones. The rows stay the same, and keep their provenance. Files that are sorted as the table
 * says become larger ones that are.
 */
final class Compaction {

  /** Data files below this size are small. */
  static final long SMALL = 64L << 20;

  /** So few small files of a partition stay as they are. */
  static final int FEW = 4;

  private final Table table;
  private final List<FileScanTask> tasks = new ArrayList<>();
  private final List<DataFile> written = new ArrayList<>();
  private final RecordFiles files;

  /** The compaction of a table as it is now. */
  Compaction(Table table) {
    this.table = table;
    this.files = new RecordFiles(table);
    Map<String, List<FileScanTask>> partitions = new TreeMap<>();
    try (CloseableIterable<FileScanTask> all = table.newScan().includeColumnStats().planFiles()) {
      for (FileScanTask task : all) {
        if (task.file().fileSizeInBytes() < SMALL || !task.deletes().isEmpty()) {
          partitions.computeIfAbsent(partition(task), p -> new ArrayList<>()).add(task);
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    for (List<FileScanTask> files : partitions.values()) {
      boolean deletes = files.stream().anyMatch(task -> !task.deletes().isEmpty());
      if (files.size() > FEW || deletes) {
        tasks.addAll(files);
      }
    }
    if (table.schema().findField(Provenance.LOAD) != null) {
      sort();
    }
  }

  /** Rows stay in the order in which they landed. */
  private void sort() {
    Map<FileScanTask, PostingBounds> bounds = new IdentityHashMap<>();
    tasks.forEach(task -> bounds.put(task, PostingBounds.of(table.schema(), task.file())));
    tasks.sort(
        Comparator.<FileScanTask, String>comparing(Compaction::partition)
            .thenComparing(task -> bounds.get(task).lowLoad())
            .thenComparing(task -> bounds.get(task).lowFile()));
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
      files.discard();
      throw new UncheckedIOException(e);
    } catch (RuntimeException e) {
      files.discard();
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
    Map<String, List<FileScanTask>> partitions = new LinkedHashMap<>();
    for (FileScanTask task : tasks) {
      partitions.computeIfAbsent(partition(task), p -> new ArrayList<>()).add(task);
    }
    for (List<FileScanTask> one : partitions.values()) {
      if (MergedRows.possible(table, one)) {
        merge(one);
      } else {
        append(one);
      }
    }
    written.addAll(files.finish());
  }

  private static String partition(FileScanTask task) {
    return task.file().specId() + " " + task.file().partition();
  }

  private void append(List<FileScanTask> one) throws IOException {
    for (FileScanTask task : one) {
      try (CloseableIterable<Record> rows = LiveRows.of(table, task, table.schema())) {
        for (Record row : rows) {
          files.write(row, task.file());
        }
      }
    }
  }

  private void merge(List<FileScanTask> one) {
    MergedRows merged = new MergedRows(table);
    for (List<FileScanTask> group : MergedRows.groups(one)) {
      files.beginSorted();
      merged.each(group, row -> files.write(row, group.get(0).file()));
      files.endSorted();
    }
  }
}
