package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableShape;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.script.FillScript;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergePlan.Column;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.jdbi.v3.core.Handle;

/**
 * Gives a target columns that its source has, and fills them from the rows that were merged before.
 */
final class MergeFill {

  private final Database database;
  private final MergeTables tables;
  private final Merge merge;
  private final List<String> names;

  MergeFill(Database database, MergeTables tables, Merge merge, List<String> names) {
    this.database = database;
    this.tables = tables;
    this.merge = merge;
    this.names = names;
  }

  /** Adds what is missing and fills all of them; gives how many rows were changed. */
  long run(MergeStart start) {
    checkMerge();
    add();
    MergePlan plan = new MergePlanner(tables, merge).plan();
    List<Column> columns = new ArrayList<>();
    for (String name : names) {
      columns.add(
          plan.columns().stream()
              .filter(c -> c.name().equals(name))
              .findFirst()
              .orElseThrow(() -> notTaken(name)));
    }
    Handle own = database.connect();
    try {
      return database.runOrUndo(
          own, "Filling columns of " + merge.into(), h -> fill(h, plan, columns, start));
    } finally {
      database.release(own);
    }
  }

  private Failure notTaken(String name) {
    return failure(name + " is not a column that the merge takes from its rows");
  }

  private Failure failure(String why) {
    return Failure.warehouse(
            "%s of %s cannot be filled by merge %s"
                .formatted(String.join(", ", names), merge.into(), merge.name()))
        .because(why)
        .hint("Nothing was filled");
  }

  /** Finds what can be determined before the target is altered. */
  private void checkMerge() {
    for (String name : names) {
      boolean other =
          merge.key().contains(name)
              || merge.managed().contains(name)
              || Provenance.COLUMNS.contains(name)
              || merge.lookups().stream().anyMatch(lookup -> lookup.column().equals(name));
      if (other) {
        throw notTaken(name);
      }
    }
    boolean overwrites =
        merge.existing() instanceof ExistingPolicy.Overwrite overwrite
            && (overwrite.columns().isEmpty() || overwrite.columns().containsAll(names));
    if (merge.history().isPresent()) {
      throw failure(
          "its target has a history, which depends on all that landed in its order;"
              + " a target that is made again has them with the column");
    }
    if (!(merge.source() instanceof MergeSource.Landing)) {
      throw failure("its source is a query, of which the ledger does not know what was merged");
    }
    if (!overwrites) {
      throw failure("later rows do not overwrite them, so the latest row lacks their values");
    }
  }

  private void add() {
    MergePlanner planner = new MergePlanner(tables, merge);
    TableShape target =
        tables.shape(merge.into()).orElseThrow(() -> failure("the target does not exist"));
    if (!Provenance.COLUMNS.stream().allMatch(name -> planner.source().column(name).isPresent())) {
      throw failure("its landing table lacks the columns that say which rows were merged");
    }
    List<TableColumn> lacking = new ArrayList<>();
    for (String name : names) {
      if (target.column(name).isEmpty()) {
        lacking.add(
            planner
                .source()
                .column(name)
                .orElseThrow(() -> failure("the source has no column " + name)));
      }
    }
    if (!lacking.isEmpty()) {
      tables.add(merge.into(), lacking);
    }
  }

  private long fill(Handle handle, MergePlan plan, List<Column> columns, MergeStart start)
      throws SQLException {
    handle
        .createQuery(
            "select into_table from dusky.merge_target where into_table = :into for update")
        .bind("into", merge.into().toString())
        .mapTo(String.class)
        .list();
    long rows = 0;
    try (MergeWork work = tables.open(handle, merge)) {
      FillScript script = new FillScript(plan, columns, tables.scratch());
      for (MergeStep step : script.steps()) {
        if (step.effect() == MergeStep.Effect.CHANGE) {
          rows = work.number(script.changedCount());
        }
        work.run(step);
      }
      work.complete();
    }
    String told = "filled %s in %,d rows".formatted(String.join(", ", names), rows);
    MergeEntry.filled(handle, merge, start, told);
    handle.getConnection().commit();
    return rows;
  }
}
