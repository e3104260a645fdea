package dev.dusky.lake.service;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.apache.iceberg.AppendFiles;
import org.apache.iceberg.BaseTable;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.SnapshotChanges;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableMetadataParser;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Commits a transaction of the ledger with what it has changed in the catalog's tables.
 *
 * <ol>
 *   <li>An intent for each table that gets rows or loses them is committed on a connection apart,
 *       and held there to the end, as a sign of life.
 *   <li>The catalog is asked for each change: it accepts one only if the table is as the intent
 *       says. Rows that are only appended are appended to a table that others have changed, with
 *       another intent.
 *   <li>The ledger's transaction completes the intents, and commits if none was given up.
 * </ol>
 *
 * If anything fails, the ledger's transaction is rolled back and {@link Abandoned} takes back what
 * the catalog has accepted; if this process does not come to that, the next one that looks at the
 * table does.
 */
final class Publication implements Working.Commit {

  private static final Logger LOG = LoggerFactory.getLogger(Publication.class);

  private static final int TRIES = 8;

  private final LedgerConnections connections;
  private final CatalogService service;
  private final Abandoned abandoned;

  Publication(LedgerConnections connections, CatalogService service, Abandoned abandoned) {
    this.connections = connections;
    this.service = service;
    this.abandoned = abandoned;
  }

  /** The change of one table. */
  private record Step(
      TableName table, TableMetadata base, TableMetadata next, boolean made, String token) {

    MetadataDifference difference() {
      return new MetadataDifference(base, next, made);
    }

    Intent intent(TableMetadata upon) {
      return new Intent(token, table, Abandoned.stateOf(upon.currentSnapshot()));
    }

    boolean intended() {
      return difference().states().size() > 0;
    }
  }

  @Override
  public void of(Connection ledger, Map<TableName, Change> changes) throws SQLException {
    List<Step> steps = new ArrayList<>();
    try {
      for (Map.Entry<TableName, Change> change : changes.entrySet()) {
        step(change.getKey(), change.getValue()).ifPresent(steps::add);
      }
      if (steps.stream().anyMatch(Step::intended)) {
        intend(ledger, steps, changes);
      } else {
        publish(ledger, steps, changes);
      }
    } catch (SQLException | RuntimeException e) {
      takeBack(ledger, steps, e);
      throw e;
    }
    steps.forEach(this::clear);
  }

  private Optional<Step> step(TableName table, Change change) {
    if (change.location().isEmpty()
        || change.location().equals(change.base().map(TableMetadata::metadataFileLocation))) {
      return Optional.empty(); // dropped, or brought back to what it was
    }
    TableMetadata next = TableMetadataParser.read(service.files(), change.location().get());
    TableMetadata base = change.base().orElseGet(() -> service.create(table, next));
    return Optional.of(
        new Step(table, base, next, change.base().isEmpty(), UUID.randomUUID().toString()));
  }

  /** Publishes with intents, which are held until the ledger's transaction is over. */
  private void intend(Connection ledger, List<Step> steps, Map<TableName, Change> changes)
      throws SQLException {
    List<Step> intended = steps.stream().filter(Step::intended).toList();
    try (Connection own = connections.open()) {
      for (Step step : intended) {
        Intents.enter(own, step.intent(step.base()));
      }
      own.commit();
      for (Step step : intended) {
        check(Intents.hold(own, step.token()), step);
      }
      publish(ledger, steps, changes);
      try {
        for (Step step : intended) {
          Intents.remove(own, step.token());
        }
        own.commit();
      } catch (SQLException e) {
        LOG.debug("a completed intent is left for the next process to remove", e);
      }
    }
  }

  private void publish(Connection ledger, List<Step> steps, Map<TableName, Change> changes)
      throws SQLException {
    for (Step step : steps) {
      send(step);
    }
    for (Step step : steps) {
      check(!step.intended() || Intents.complete(ledger, step.token()), step);
    }
    for (Map.Entry<TableName, Change> change : changes.entrySet()) {
      if (change.getValue().location().isEmpty() && change.getValue().base().isPresent()) {
        service.drop(change.getKey());
      }
    }
    ledger.commit();
  }

  private static void check(boolean still, Step step) {
    if (!still) {
      throw Failure.warehouse("The change of " + step.table() + " came too late")
          .because("another process took this one for dead and took its change back")
          .hint("Nothing was changed; run the command again");
    }
  }

  private void send(Step step) throws SQLException {
    MetadataDifference difference = step.difference();
    TableMetadata base = step.base();
    TableMetadata changed = difference.changed(step.token());
    for (int tries = 1; !changed.changes().isEmpty(); tries++) {
      try {
        service.commit(step.table(), base, changed);
        return;
      } catch (CommitFailedException e) {
        base = load(step.table());
        if (MetadataDifference.marked(base, step.token()).isPresent()) {
          return; // the request was repeated on its way, as its first answer was lost
        }
        if (!difference.appends() || tries == TRIES) {
          throw Failure.warehouse("Table " + step.table() + " was changed by another engine")
              .because("while this was being committed: " + e.getMessage())
              .hint("Nothing was changed; run the command again")
              .from(e);
        }
      }
      try (Connection aside = connections.open()) {
        check(Intents.rebase(aside, step.intent(base)), step);
        aside.commit();
      }
      changed = appended(base, step);
    }
  }

  private TableMetadata load(TableName table) {
    return service
        .load(table)
        .orElseThrow(
            () ->
                Failure.warehouse("Table " + table + " was dropped meanwhile")
                    .hint("Nothing was changed; run the command again"));
  }

  /** The same rows appended to a table as it is now. */
  private TableMetadata appended(TableMetadata base, Step step) {
    BaseTable source = new PlannedTable(step.next(), service.files()).table("" + step.table());
    PlannedTable plan = new PlannedTable(base, service.files());
    AppendFiles append = plan.table(step.table().toString()).newAppend();
    for (Snapshot state : step.difference().states()) {
      SnapshotChanges.builderFor(source)
          .snapshot(state)
          .build()
          .addedDataFiles()
          .forEach(append::appendFile);
    }
    append.set(MetadataDifference.TOKEN, step.token()).commit();
    return plan.current();
  }

  private void takeBack(Connection ledger, List<Step> steps, Exception cause) {
    try {
      ledger.rollback();
    } catch (SQLException e) {
      LOG.debug("rolling back on a broken connection", e); // the database drops the transaction
    }
    for (Step step : steps) {
      try {
        abandoned.settle(step.table());
      } catch (SQLException | RuntimeException e) {
        cause.addSuppressed(
            e); // the intent stays; the next process that looks at the table settles it
      }
    }
  }

  /** Removes the metadata that the transaction worked with: the catalog has written its own. */
  private void clear(Step step) {
    Set<String> worked =
        new HashSet<>(step.next().previousFiles().stream().map(f -> f.file()).toList());
    worked.add(step.next().metadataFileLocation());
    worked.remove(step.base().metadataFileLocation());
    step.base().previousFiles().forEach(former -> worked.remove(former.file()));
    for (String location : worked) {
      try {
        service.files().deleteFile(location);
      } catch (RuntimeException e) {
        LOG.debug("a file is left over for tidying: {}", location, e);
      }
    }
  }
}
