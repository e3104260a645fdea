package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableShape;
import dev.dusky.warehouses.merge.FillScript;
import dev.dusky.warehouses.merge.MergePlan;
import dev.dusky.warehouses.merge.MergePlan.Column;
import dev.dusky.warehouses.merge.MergeStep;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/**
 * Gives a target columns that its source has, and fills them from the rows that were merged before.
 */
final class MergeFill {

  private final JdbcWarehouse warehouse;
  private final Merge merge;
  private final List<String> names;

  MergeFill(JdbcWarehouse warehouse, Merge merge, List<String> names) {
    this.warehouse = warehouse;
    this.merge = merge;
    this.names = names;
  }

  /** Adds what is missing and fills all of them; gives how many rows were changed. */
  long run(MergeStart start) {
    checkMerge();
    add();
    MergePlan plan = new MergePlanner(warehouse, merge).plan();
    List<Column> columns = new ArrayList<>();
    for (String name : names) {
      columns.add(
          plan.columns().stream()
              .filter(c -> c.name().equals(name))
              .findFirst()
              .orElseThrow(() -> notTaken(name)));
    }
    Connection connection = warehouse.connect();
    try {
      return fill(connection, plan, columns, start);
    } catch (SQLException e) {
      throw warehouse.failed(connection, "Filling columns of " + merge.into(), e);
    } finally {
      warehouse.release(connection);
    }
  }

  private Failure notTaken(String name) {
    return failure(name + " is no column that the merge takes from its rows");
  }

  private Failure failure(String why) {
    return Failure.warehouse(
            "%s of %s cannot be filled by merge %s"
                .formatted(String.join(", ", names), merge.into(), merge.name()))
        .because(why)
        .next("Nothing was filled");
  }

  /** Finds what can be told before the target is altered. */
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
          "its target keeps versions, and which there are depends on all that landed in its order;"
              + " a target that is made anew has them with the column");
    }
    if (!(merge.source() instanceof MergeSource.Landing)) {
      throw failure("its source is a query, of which the ledger does not know what was merged");
    }
    if (!overwrites) {
      throw failure("a later row does not overwrite them, so the latest row has not their values");
    }
  }

  private void add() {
    MergePlanner planner = new MergePlanner(warehouse, merge);
    TableShape target =
        warehouse.shape(merge.into()).orElseThrow(() -> failure("the target does not exist"));
    if (!Provenance.COLUMNS.stream().allMatch(name -> planner.sourceColumn(name).isPresent())) {
      throw failure("its landing table lacks the columns that say which rows were merged");
    }
    List<String> statements = new ArrayList<>();
    for (String name : names) {
      if (target.column(name).isEmpty()) {
        TableColumn column =
            planner
                .sourceColumn(name)
                .orElseThrow(() -> failure("the source has no column " + name));
        statements.add(planner.adding(column));
      }
    }
    warehouse.transact(
        "Adding columns to " + merge.into(),
        c -> {
          for (String statement : statements) {
            Merges.execute(c, statement);
          }
          return null;
        });
  }

  private long fill(Connection connection, MergePlan plan, List<Column> columns, MergeStart start)
      throws SQLException {
    try (PreparedStatement hold =
        connection.prepareStatement(
            "select into_table from dusky.merge_target where into_table = ? for update")) {
      hold.setString(1, merge.into().toString());
      hold.execute();
    }
    long rows = 0;
    for (MergeStep step : new FillScript(plan, columns, warehouse.dialect()::makeScratch).steps()) {
      try (Statement statement = connection.createStatement()) {
        statement.execute(step.sql());
        rows = statement.getLargeUpdateCount();
      }
    }
    String told = "filled %s in %,d rows".formatted(String.join(", ", names), rows);
    MergeEntry.filled(connection, merge, start, told);
    connection.commit();
    return rows;
  }
}
