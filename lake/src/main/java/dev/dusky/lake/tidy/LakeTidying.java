package dev.dusky.lake.tidy;

import dev.dusky.core.ledger.LoadKind;
import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tidy.Tidied;
import dev.dusky.core.tidy.TidyOrder;
import dev.dusky.core.tidy.Tidying;
import dev.dusky.lake.file.StoredFiles;
import dev.dusky.lake.file.StoredFiles.Stored;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.pointer.PointerFailure;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.ledger.LoadRows;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.SnapshotRef;
import org.apache.iceberg.Table;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableMetadataParser;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.apache.iceberg.exceptions.ValidationException;
import org.jdbi.v3.core.Handle;

/**
 * Keeps the tables of a catalog tidy. What a table changes in is one transaction with its entry in
 * the journal. Files are removed at the end, and only those that were there before any table was
 * looked at, are old by the store's own clock, older than every load that runs, and needed by no
 * state of any table.
 */
public final class LakeTidying implements Tidying {

  /** Clocks of machines that load may differ by this much. */
  private static final Duration SKEW = Duration.ofHours(1);

  /** While a merge runs, files count as younger by this. */
  private static final Duration LONGEST_MERGE = Duration.ofDays(1);

  private final Database database;
  private final LakeCatalog catalog;
  private final String place;

  /** The tables of that catalog at a place, with their ledger in that database. */
  public LakeTidying(Database database, LakeCatalog catalog, String place) {
    this.database = database;
    this.catalog = catalog;
    this.place = place;
  }

  @Override
  public void run(TidyOrder order, Consumer<Tidied> done) {
    StoredFiles stored = (StoredFiles) catalog.files();
    Instant limit = limit(stored.now(place).minus(order.older()));
    List<Stored> old = new ArrayList<>();
    stored.each(
        place,
        file -> {
          if (file.modified().isBefore(limit)) {
            old.add(file);
          }
        });
    Map<TableName, String> tables = locations();
    for (TableName table : tables.keySet()) {
      Tidied tidied;
      try {
        tidied = tidy(table, order, limit);
      } catch (PointerFailure e) {
        throw database.failures().of("Tidying " + table, e.refusal());
      } catch (RuntimeException e) { // of the format's library, by no common type
        tidied = Tidied.failed(table.toString(), String.valueOf(e.getMessage()));
      }
      if (!tidied.idle()) {
        done.accept(tidied);
      }
    }
    Tidied leftovers = leftovers(stored, old, order.rehearsed());
    if (leftovers.leftovers() > 0 && !order.rehearsed()) {
      database.transact(
          "Entering what was removed",
          h -> {
            enter(
                h,
                order.start(),
                "leftovers",
                "%,d files that no table needs removed, %,d bytes"
                    .formatted(leftovers.leftovers(), leftovers.bytes()));
            return null;
          });
    }
    if (!leftovers.idle()) {
      done.accept(leftovers);
    }
  }

  private Map<TableName, String> locations() {
    return database.transact("Reading the tables", h -> catalog.locations(h.getConnection()));
  }

  /** Nothing from the time of a load or merge that still runs is old. */
  private Instant limit(Instant asked) {
    return database.transact(
        "Looking for running loads and merges",
        h -> {
          Instant limit = merging(h) ? asked.minus(LONGEST_MERGE) : asked;
          return h.createQuery("select min(started_at) from dusky.load where state = 'running'")
              .mapTo(Instant.class)
              .findOne()
              .map(start -> start.minus(SKEW))
              .filter(limit::isAfter)
              .orElse(limit);
        });
  }

  /** Whether a merge runs: it holds its target's row. */
  private boolean merging(Handle handle) {
    long all =
        handle.createQuery("select count(*) from dusky.merge_target").mapTo(Long.class).one();
    int free =
        handle
            .createQuery(
                "select into_table from dusky.merge_target " + database.dialect().claimClause())
            .mapTo(String.class)
            .list()
            .size();
    return free < all;
  }

  private Tidied tidy(TableName name, TidyOrder order, Instant limit) {
    return database.transact(
        "Tidying " + name,
        h -> {
          Table table = catalog.table(h.getConnection(), name).orElseThrow();
          Compaction compaction = new Compaction(table);
          int small = compaction.small();
          long states = oldStates(table, limit);
          if (order.rehearsed() || small == 0 && states == 0) {
            return new Tidied(name.toString(), states, small, small > 0 ? 1 : 0, 0, 0, "");
          }
          try {
            int into = small > 0 ? compaction.run() : 0;
            if (states > 0) {
              table
                  .expireSnapshots()
                  .expireOlderThan(limit.toEpochMilli())
                  .retainLast(1)
                  .cleanExpiredFiles(false) // what they leave is a leftover, once it is old
                  .commit();
            }
            Tidied tidied = new Tidied(name.toString(), states, small, into, 0, 0, "");
            enter(
                h,
                order.start(),
                name.toString(),
                "%,d small data files rewritten into %,d, %,d former states forgotten"
                    .formatted(small, into, states));
            return tidied;
          } catch (ValidationException | CommitFailedException e) {
            h.getConnection().rollback();
            return Tidied.failed(name.toString(), "others changed it meanwhile; run it again");
          }
        });
  }

  private static long oldStates(Table table, Instant limit) {
    Set<Long> named =
        table.refs().values().stream().map(SnapshotRef::snapshotId).collect(Collectors.toSet());
    long states = 0;
    for (Snapshot snapshot : table.snapshots()) {
      boolean old = snapshot.timestampMillis() < limit.toEpochMilli();
      states += old && !named.contains(snapshot.snapshotId()) ? 1 : 0;
    }
    return states;
  }

  private static void enter(Handle handle, LoadStart start, String what, String done) {
    LoadStart entry =
        new LoadStart(
            LoadKind.TIDY,
            "",
            what,
            "",
            start.startedBy(),
            start.host(),
            start.toolVersion(),
            Instant.now());
    LoadRows.end(handle, LoadRows.insert(handle, entry), LoadState.DONE, done);
  }

  /** Removes what no table needs; the tables are read again, as they are after all changes. */
  private Tidied leftovers(StoredFiles stored, List<Stored> old, boolean rehearsed) {
    NeededFiles needed = new NeededFiles(catalog.files(), stored);
    List<String> places = new ArrayList<>();
    for (Map.Entry<TableName, String> table : locations().entrySet()) {
      try {
        TableMetadata metadata = TableMetadataParser.read(catalog.files(), table.getValue());
        needed.add(metadata);
        places.add(stored.plain(metadata.location()) + "/");
      } catch (RuntimeException e) { // of the format's library, by no common type
        return Tidied.failed(
            "",
            "no file was removed, as those that %s needs are not known: %s"
                .formatted(table.getKey(), e.getMessage()));
      }
    }
    long count = 0;
    long bytes = 0;
    for (Stored file : old) {
      boolean ours = catalog.exclusive() || places.stream().anyMatch(file.location()::startsWith);
      if (ours && !needed.has(file.location())) {
        if (!rehearsed) {
          catalog.files().deleteFile(file.location());
        }
        count++;
        bytes += file.size();
      }
    }
    return new Tidied("", 0, 0, 0, count, bytes, "");
  }
}
