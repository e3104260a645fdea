package dev.dusky.lake;

import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.ProvenanceKey;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.FormerRows;
import dev.dusky.core.tables.Transaction;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.read.LiveRows;
import dev.dusky.lake.read.PostingBounds;
import dev.dusky.lake.read.PostingSet;
import dev.dusky.lake.write.RecordFiles;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.iceberg.AppendFiles;
import org.apache.iceberg.FileScanTask;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.Table;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.expressions.Expressions;
import org.apache.iceberg.io.CloseableIterable;
import org.jdbi.v3.core.Handle;

/**
 * Rows that loads have replaced. The state of the table before load N has the tag {@code
 * before_load_N}, or {@code before_slices_of_load_N} if the load replaced only slices, so nothing
 * is copied and other engines can read it. Bringing rows back copies whole data files under new
 * names: a file that was removed from a table must not come back under its name, as engines that
 * forget states may delete it.
 */
final class LakeFormerRows implements FormerRows {

  private static final String WHOLE = "before_load_";
  private static final String SLICES = "before_slices_of_load_";
  private static final Pattern TAG = Pattern.compile("(?:" + WHOLE + "|" + SLICES + ")(\\d+)");

  /** The loads whose replaced rows are kept: the last one of the table. */
  private static final String KEPT =
      """
      select r.load_id from dusky.replacement r
      where r.into_table = :into and r.kept and r.restored_by is null and r.load_id =
        (select max(o.load_id) from dusky.replacement o where o.into_table = :into)""";

  private static final String REPLACED =
      """
      select t.load_id, t.file_id from dusky.tally t
      join dusky.replacement r on r.reversal_id = t.reversed_by where r.load_id = :load""";

  private final Database database;
  private final LakeCatalog catalog;
  private final LakeAccess access;

  LakeFormerRows(Database database, LakeCatalog catalog, LakeAccess access) {
    this.database = database;
    this.catalog = catalog;
    this.access = access;
  }

  /** A state that has a tag stays anyway. */
  @Override
  public void prepare(TableName table, long loadId) {}

  @Override
  public void hold(Transaction transaction, TableName table) {
    access.hold(transaction, table);
  }

  @Override
  public long takeOut(
      Transaction transaction, TableName table, long loadId, Optional<List<ProvenanceKey>> only) {
    return run(
        transaction,
        table,
        found -> {
          Snapshot before = found.currentSnapshot();
          if (before == null) {
            return 0L;
          }
          found
              .manageSnapshots()
              .createTag((only.isEmpty() ? WHOLE : SLICES) + loadId, before.snapshotId())
              .commit();
          if (only.isPresent()) {
            return new TakenRows(found, only.get()).takeOut();
          }
          long rows = count(found);
          if (rows > 0) {
            found.newDelete().deleteFromRowFilter(Expressions.alwaysTrue()).commit();
          }
          return rows;
        });
  }

  @Override
  public long leaveOut(
      Transaction transaction, TableName table, Optional<List<ProvenanceKey>> only) {
    return run(
        transaction,
        table,
        found -> only.isPresent() ? new TakenRows(found, only.get()).count() : count(found));
  }

  private long run(Transaction transaction, TableName name, Function<Table, Long> work) {
    return access
        .failures()
        .run("Taking rows out of " + name, () -> work.apply(access.table(transaction, name)));
  }

  private static long count(Table table) {
    long rows = 0;
    Schema one = new Schema(table.schema().columns().get(0));
    try (CloseableIterable<FileScanTask> tasks = table.newScan().planFiles()) {
      for (FileScanTask task : tasks) {
        if (task.deletes().isEmpty()) {
          rows += task.file().recordCount();
        } else {
          try (CloseableIterable<Record> live = LiveRows.of(table, task, one)) {
            for (Record ignored : live) {
              rows++;
            }
          }
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return rows;
  }

  @Override
  public long bringBack(Transaction transaction, TableName table, long loadId) {
    Handle ledger = JdbcTransaction.of(transaction).handle();
    access.hold(transaction, table);
    return run(
        transaction,
        table,
        found -> {
          boolean whole = found.refs().containsKey(WHOLE + loadId);
          Snapshot before = found.snapshot((whole ? WHOLE : SLICES) + loadId);
          if (before == null) {
            return 0L; // the table had no rows
          }
          PostingSet postings = new PostingSet(replaced(ledger, loadId));
          RecordFiles files = new RecordFiles(found);
          long rows = 0;
          try (CloseableIterable<FileScanTask> tasks =
              found.newScan().useSnapshot(before.snapshotId()).includeColumnStats().planFiles()) {
            for (FileScanTask task : tasks) {
              rows +=
                  bringBack(found, task, files, whole ? Optional.empty() : Optional.of(postings));
            }
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
          AppendFiles append = found.newAppend();
          files.finish().forEach(append::appendFile);
          append.commit();
          return rows;
        });
  }

  private static List<ProvenanceKey> replaced(Handle ledger, long load) {
    return ledger
        .createQuery(REPLACED)
        .bind("load", load)
        .map((row, context) -> new ProvenanceKey(row.getLong(1), row.getLong(2)))
        .list();
  }

  private static long bringBack(
      Table table, FileScanTask task, RecordFiles files, Optional<PostingSet> only)
      throws IOException {
    PostingSet.Share share =
        only.map(set -> set.share(PostingBounds.of(table.schema(), task.file())))
            .orElse(PostingSet.Share.ALL);
    if (share == PostingSet.Share.NONE) {
      return 0;
    }
    if (share == PostingSet.Share.ALL && task.deletes().isEmpty()) {
      files.reuse(task.file());
      return task.file().recordCount();
    }
    long rows = 0;
    try (CloseableIterable<Record> live = LiveRows.of(table, task, table.schema())) {
      for (Record row : live) {
        boolean wanted =
            only.isEmpty()
                || only.get()
                    .has(
                        (long) row.getField(Provenance.LOAD), (long) row.getField(Provenance.FILE));
        if (wanted) {
          files.write(row, task.file());
          rows++;
        }
      }
    }
    return rows;
  }

  @Override
  public void tidy(TableName name) {
    database.transact(
        "Forgetting rows that were replaced before",
        h -> {
          Optional<Table> table = catalog.table(h.getConnection(), name);
          List<Long> kept =
              h.createQuery(KEPT).bind("into", name.toString()).mapTo(Long.class).list();
          for (String tag : List.copyOf(table.map(t -> t.refs().keySet()).orElse(Set.of()))) {
            OptionalLong load = load(tag);
            if (load.isPresent() && !kept.contains(load.getAsLong())) {
              access
                  .failures()
                  .run(
                      "Changing " + name,
                      () -> {
                        table.get().manageSnapshots().removeTag(tag).commit();
                        return null;
                      });
              h.createUpdate("update dusky.replacement set kept = false where load_id = :load")
                  .bind("load", load.getAsLong())
                  .execute();
            }
          }
          return null;
        });
  }

  private static OptionalLong load(String tag) {
    Matcher matcher = TAG.matcher(tag);
    return matcher.matches()
        ? OptionalLong.of(Long.parseLong(matcher.group(1)))
        : OptionalLong.empty();
  }
}
