package dev.dusky.lake.service;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.iceberg.BaseTable;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DataOperations;
import org.apache.iceberg.DeleteFiles;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.SnapshotChanges;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.Transaction;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.apache.iceberg.exceptions.ValidationException;
import org.apache.iceberg.expressions.Expressions;

/**
 * Takes back changes of tables whose transaction of the ledger did not commit.
 *
 * <p>An intent that nobody holds is such a change. It is given up first, so that its process cannot
 * commit the ledger any more. If the table has its token, the table goes back to the state before;
 * if others have changed the table since, the data files that the change has added are taken out.
 * If the table does not have the token, its process may still be about to send the change: an empty
 * state (the fence) makes the catalog refuse that. Then the intent is removed.
 */
final class Abandoned {

  /** The entry in the summary of a state that is a fence. */
  static final String FENCE = "dusky.fence";

  private static final int TRIES = 8;

  private final LedgerConnections connections;
  private final CatalogService service;

  /**
   * What that catalog is asked for.
   *
   * @param connections opens connections to the ledger
   */
  Abandoned(LedgerConnections connections, CatalogService service) {
    this.connections = connections;
    this.service = service;
  }

  /** Settles the intents of a table; waits for those that a process holds. */
  void settle(TableName table) throws SQLException {
    try (Connection own = connections.open()) {
      for (String token : Intents.of(own, table)) {
        if (Intents.hold(own, token) && Intents.giveUp(own, token)) {
          own.commit(); // if this process ends now, the other must not complete it all the same
          if (Intents.hold(own, token)) {
            takeBack(Intents.givenUp(own, token, table));
          }
        }
        Intents.remove(own, token);
        own.commit();
      }
    }
  }

  private void takeBack(Intent intent) {
    for (int tries = 1; ; tries++) {
      Optional<TableMetadata> table = service.load(intent.table());
      if (table.isEmpty()) {
        return;
      }
      Optional<TableMetadata> changed = without(table.get(), intent);
      if (changed.isEmpty()) {
        return;
      }
      try {
        service.commit(intent.table(), table.get(), changed.get());
        return;
      } catch (CommitFailedException e) {
        if (tries == TRIES) {
          throw Failure.warehouse("A change of " + intent.table() + " could not be taken back")
              .because("others change the table all the time: " + e.getMessage())
              .hint("Run the command again")
              .from(e);
        }
      }
    }
  }

  /** The table without the change; empty if nothing has to be done. */
  private Optional<TableMetadata> without(TableMetadata table, Intent intent) {
    Optional<Snapshot> mine = MetadataDifference.marked(table, intent.token());
    Snapshot current = table.currentSnapshot();
    boolean done =
        MetadataDifference.since(table, current, Intent.NONE).stream()
            .anyMatch(state -> intent.token().equals(state.summary().get(FENCE)));
    if (done) {
      return Optional.empty(); // by a process that was killed before it removed the intent
    }
    PlannedTable plan = new PlannedTable(table, service.files());
    BaseTable planned = plan.table(intent.table().toString());
    if (mine.isEmpty()) {
      if (stateOf(current) != intent.base()) {
        complete(table, intent);
        return Optional.empty(); // the catalog would refuse the change by now
      }
      planned.newFastAppend().set(FENCE, intent.token()).commit();
      return Optional.of(plan.current());
    }
    long last = mine.get().snapshotId();
    List<Snapshot> states = MetadataDifference.since(table, mine.get(), intent.base());
    if (current.snapshotId() == last) {
      Transaction back = planned.newTransaction();
      if (intent.base() == Intent.NONE) {
        back.newDelete().deleteFromRowFilter(Expressions.alwaysTrue()).commit();
      } else {
        back.manageSnapshots().rollbackTo(intent.base()).commit();
      }
      back.newFastAppend().set(FENCE, intent.token()).commit();
      back.commitTransaction();
      return Optional.of(plan.current());
    }
    try {
      takeOut(planned, states, intent);
    } catch (ValidationException e) {
      throw stuck(intent, "another engine has rewritten its data files").from(e);
    }
    return Optional.of(plan.current());
  }

  /** Fails if states since the base are not known any more, among which the change may be. */
  private static void complete(TableMetadata table, Intent intent) {
    for (Snapshot state : MetadataDifference.since(table, table.currentSnapshot(), intent.base())) {
      Long before = state.parentId();
      if (before != null && before != intent.base() && table.snapshot(before) == null) {
        throw stuck(intent, "another engine has forgotten states of the table since");
      }
    }
  }

  static long stateOf(Snapshot state) {
    return state == null ? Intent.NONE : state.snapshotId();
  }

  private static void takeOut(BaseTable table, List<Snapshot> states, Intent intent) {
    if (!states.stream().allMatch(s -> s.operation().equals(DataOperations.APPEND))) {
      throw stuck(intent, "it did not only append rows, and others have changed the table");
    }
    List<DataFile> added = new ArrayList<>();
    for (Snapshot state : states) {
      SnapshotChanges.builderFor(table)
          .snapshot(state)
          .build()
          .addedDataFiles()
          .forEach(file -> added.add(file.copy()));
    }
    DeleteFiles delete = table.newDelete().validateFilesExist().set(FENCE, intent.token());
    added.forEach(delete::deleteFile);
    delete.commit();
  }

  private static Failure stuck(Intent intent, String why) {
    return Failure.warehouse(
            "Table %s may have a change that the ledger does not have".formatted(intent.table()))
        .because(
            "a process sent it to the catalog and did not come to commit the ledger; it cannot be"
                + " taken back, as "
                + why)
        .hint(
            intent.base() == Intent.NONE
                ? "Empty the table with the other engine, then run the command again"
                : "Bring the table back to state "
                    + intent.base()
                    + " with the other engine, then run the command again");
  }
}
