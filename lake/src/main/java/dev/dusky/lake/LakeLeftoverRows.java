package dev.dusky.lake;

import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.lake.type.LakeValues;
import dev.dusky.lake.write.RecordFiles;
import dev.dusky.warehouses.landed.LeftoverRows;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.RewriteFiles;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.expressions.Expressions;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.util.ContentFileUtil;
import org.jdbi.v3.core.Handle;

/** Rows with leftovers in object storage: the data files that have such rows are rewritten. */
final class LakeLeftoverRows implements LeftoverRows {

  private static final int BATCH = 1_000;

  private final LakeCatalog catalog;
  private final LakeFailures failures;

  LakeLeftoverRows(LakeCatalog catalog, LakeFailures failures) {
    this.catalog = catalog;
    this.failures = failures;
  }

  private interface Work<T> {
    T of(Table table) throws IOException;
  }

  private <T> T run(Handle ledger, TableName name, Work<T> work) {
    return failures.run(
        "Promoting a field of " + name,
        () -> {
          try {
            return work.of(catalog.table(ledger.getConnection(), name).orElseThrow());
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
        });
  }

  @Override
  public void scan(Handle ledger, TableName name, Consumer<List<String>> taker) {
    run(
        ledger,
        name,
        table -> {
          Schema column = new Schema(table.schema().findField(DriftPolicy.LEFTOVERS));
          for (FileScanTask task : tasks(table)) {
            try (CloseableIterable<Record> rows = LiveRows.of(table, task, column)) {
              batches(
                  rows,
                  batch -> {
                    List<String> leftovers =
                        batch.stream()
                            .map(row -> (String) row.get(0))
                            .filter(Objects::nonNull)
                            .toList();
                    taker.accept(leftovers);
                  });
            }
          }
          return null;
        });
  }

  /** The data files that may have rows with leftovers, by their statistics. */
  private static List<FileScanTask> tasks(Table table) throws IOException {
    List<FileScanTask> tasks = new ArrayList<>();
    try (CloseableIterable<FileScanTask> found =
        table.newScan().filter(Expressions.notNull(DriftPolicy.LEFTOVERS)).planFiles()) {
      found.forEach(tasks::add);
    }
    return tasks;
  }

  private static void batches(Iterable<Record> rows, Consumer<List<Record>> taker) {
    List<Record> batch = new ArrayList<>();
    for (Record row : rows) {
      batch.add(row);
      if (batch.size() == BATCH) {
        taker.accept(batch);
        batch.clear();
      }
    }
    if (!batch.isEmpty()) {
      taker.accept(batch);
    }
  }

  @Override
  public long move(
      Handle ledger,
      TableName name,
      String column,
      SqlType type,
      Function<List<String>, List<Optional<Moved>>> change) {
    return run(
        ledger,
        name,
        table -> {
          catalog.hold(ledger.getConnection(), name);
          table.refresh();
          RewriteFiles rewrite = table.newRewrite();
          rewrite.validateFromSnapshot(table.currentSnapshot().snapshotId());
          long changed = 0;
          for (FileScanTask task : tasks(table)) {
            changed += rewrite(table, task, rewrite, column, change);
          }
          if (changed > 0) {
            rewrite.commit();
          }
          return changed;
        });
  }

  private static long rewrite(
      Table table,
      FileScanTask task,
      RewriteFiles rewrite,
      String column,
      Function<List<String>, List<Optional<Moved>>> change)
      throws IOException {
    RecordFiles files = new RecordFiles(table);
    long[] changed = new long[1];
    try (CloseableIterable<Record> rows = LiveRows.of(table, task, table.schema())) {
      batches(rows, batch -> changed[0] += write(table, task.file(), files, batch, column, change));
    }
    List<DataFile> written = files.finish();
    if (changed[0] == 0) {
      files.discard();
      return 0;
    }
    rewrite.deleteFile(task.file());
    for (DeleteFile deletes : task.deletes()) {
      if (task.file().location().equals(ContentFileUtil.referencedDataFileLocation(deletes))) {
        rewrite.deleteFile(deletes);
      }
    }
    written.forEach(rewrite::addFile);
    return changed[0];
  }

  private static long write(
      Table table,
      DataFile from,
      RecordFiles files,
      List<Record> batch,
      String column,
      Function<List<String>, List<Optional<Moved>>> change) {
    List<Record> with =
        batch.stream().filter(row -> row.getField(DriftPolicy.LEFTOVERS) != null).toList();
    List<Optional<Moved>> moved =
        change.apply(
            with.stream().map(row -> (String) row.getField(DriftPolicy.LEFTOVERS)).toList());
    long changed = 0;
    for (int i = 0; i < with.size(); i++) {
      if (moved.get(i).isPresent()) {
        Moved now = moved.get(i).get();
        with.get(i)
            .setField(column, LakeValues.parse(table.schema().findType(column), now.value()));
        with.get(i).setField(DriftPolicy.LEFTOVERS, now.rest());
        changed++;
      }
    }
    batch.forEach(row -> files.write(row, from));
    return changed;
  }
}
