package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.Merges;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergeRequest;
import dev.dusky.warehouses.script.MergeRequest.PostedFile;
import dev.dusky.warehouses.script.MergeScript;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** Merges as statements over tables, each in one transaction of the ledger's database. */
public final class JdbcMerges implements Merges {

  /** How often a merge is tried that conflicts with another transaction. */
  private static final int MOST_TRIES = 5;

  private final Database database;
  private final MergeTables tables;

  /** Merges of those tables, with their ledger in that database. */
  public JdbcMerges(Database database, MergeTables tables) {
    this.database = database;
    this.tables = tables;
  }

  @Override
  public void run(
      Merge merge, MergeStart start, Consumer<String> waiting, Consumer<MergeResult> done) {
    boolean rehearsed = start.rehearsed().isPresent();
    if (rehearsed && merge.create() && tables.shape(merge.into()).isEmpty()) {
      throw Failure.warehouse(
              "Merge %s cannot be rehearsed: its target %s does not exist yet"
                  .formatted(merge.name(), merge.into()))
          .hint(
              "Create it first; a rehearsal is rolled back, so it cannot do that:\n"
                  + planner(merge).createStatement());
    }
    try {
      MergePlan plan = plan(merge);
      if (!rehearsed) {
        enter(merge);
      }
      if (merge.missing().isEmpty() || start.retry()) {
        done.accept(one(plan, start, Optional.empty(), false, waiting));
      } else {
        boolean leaves = merge.missing().get().then() != GoneKeys.KEEP;
        Snapshots snapshots = new Snapshots(database, merge);
        for (PostedFile file : snapshots.waiting()) {
          boolean sweep = leaves && file.whole() && snapshots.newest(file);
          done.accept(one(plan, start, Optional.of(file), sweep, waiting));
        }
      }
    } catch (Failure failure) {
      if (!rehearsed && failure.kind() == Failure.Kind.WAREHOUSE) {
        note(merge, start, failure);
      }
      throw failure;
    }
  }

  private MergePlanner planner(Merge merge) {
    return new MergePlanner(tables, merge);
  }

  private MergePlan plan(Merge merge) {
    MergePlanner planner = planner(merge);
    MergeChecks.checkLookups(tables, merge);
    if (merge.create() && tables.shape(merge.into()).isEmpty()) {
      tables.create(merge.into(), planner.newTarget());
    }
    return planner.plan();
  }

  private MergeResult one(
      MergePlan plan,
      MergeStart start,
      Optional<PostedFile> file,
      boolean sweep,
      Consumer<String> waiting) {
    String newer = planner(plan.merge()).newer();
    for (int tries = 1; true; tries++) {
      try (MergeRun run = new MergeRun(database, tables, plan, start, newer)) {
        return run.run(file, sweep, waiting);
      } catch (Failure failure) {
        if (!failure.passing() || tries == MOST_TRIES) {
          throw failure;
        }
      }
    }
  }

  @Override
  public long fill(Merge merge, List<String> columns, MergeStart start) {
    return new MergeFill(database, tables, merge, columns).run(start);
  }

  @Override
  public List<MergeStep> script(Merge merge) {
    MergePlan plan = planner(merge).plan();
    boolean onePass = tables.onePass();
    boolean each = merge.missing().isPresent();
    MergeRequest request =
        new MergeRequest(
            0, false, "", Optional.empty(), false, each, Optional.empty(), onePass, false);
    MergeScript script = MergeScript.of(plan, request, tables.scratch());
    List<MergeStep> steps = new ArrayList<>();
    for (MergeStep step : script.judge()) {
      steps.add(
          step.effect() == MergeStep.Effect.CHOOSE
              ? MergeStep.choose(
                  step.into(),
                  step.comment(),
                  database.dialect().makeScratch(step.into(), step.sql()))
              : step);
    }
    steps.addAll(script.write());
    return steps;
  }

  /** Enters the target among those that merges lock in turn. */
  private void enter(Merge merge) {
    for (String table : MergeRun.tables(merge)) {
      try {
        database.transact(
            "Entering target " + table,
            h ->
                h.createUpdate(
                        "insert into dusky.merge_target select cast(:table as varchar(200))"
                            + " where not exists"
                            + " (select 1 from dusky.merge_target where into_table = :table)")
                    .bind("table", table)
                    .execute());
      } catch (Failure failure) {
        boolean taken =
            failure.getCause() instanceof SQLException e && "23505".equals(e.getSQLState());
        if (!taken) {
          throw failure;
        }
        // Another merge entered it at the same moment: it exists, which is all that is needed.
      }
    }
  }

  /** Enters that a merge failed; what it did is undone already. */
  private void note(Merge merge, MergeStart start, Failure failure) {
    try {
      database.transact(
          "Noting a failed merge",
          h -> MergeEntry.insert(h, merge, start, "failed", Optional.of(failure.getMessage())));
    } catch (Failure again) {
      failure.addSuppressed(again); // the warehouse itself is gone
    }
  }
}
