package dev.dusky.warehouses;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.warehouses.merge.MergePlan;
import dev.dusky.warehouses.merge.MergeRequest;
import dev.dusky.warehouses.merge.MergeRequest.PostedFile;
import dev.dusky.warehouses.merge.MergeScript;
import dev.dusky.warehouses.merge.MergeStep;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** Runs merges, each in one transaction with its ledger entry. */
public final class Merges {

  /** So often a merge begins anew that stood in another transaction's way. */
  private static final int MOST_TRIES = 5;

  private final JdbcWarehouse warehouse;

  Merges(JdbcWarehouse warehouse) {
    this.warehouse = warehouse;
  }

  /**
   * Merges what has landed and was not merged yet.
   *
   * @param waiting told the target when another merge holds it, before this one waits
   * @return what was done; several if each file is a snapshot of its own
   */
  public List<MergeResult> run(Merge merge, MergeStart start, Consumer<String> waiting) {
    List<MergeResult> results = new ArrayList<>();
    run(merge, start, waiting, results::add);
    return results;
  }

  /**
   * The same, told at once.
   *
   * @param done told of each transaction when it is committed, also if a later one fails
   */
  public void run(
      Merge merge, MergeStart start, Consumer<String> waiting, Consumer<MergeResult> done) {
    boolean rehearsed = start.rehearsed().isPresent();
    boolean made = rehearsed && warehouse.shape(merge.into()).isEmpty() && merge.create();
    if (made) {
      throw Failure.warehouse(
              "Merge %s cannot be rehearsed: its target %s does not exist yet"
                  .formatted(merge.name(), merge.into()))
          .next(
              "Make it first; nothing of a rehearsal stays, so it cannot do that:\n"
                  + new MergePlanner(warehouse, merge).createStatement());
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
        for (PostedFile file : snapshots(merge)) {
          boolean sweep = leaves && file.whole() && newest(merge, file);
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

  private MergePlan plan(Merge merge) {
    MergePlanner planner = new MergePlanner(warehouse, merge);
    MergeChecks.checkLookups(warehouse, merge);
    if (warehouse.shape(merge.into()).isEmpty() && merge.create()) {
      warehouse.create(merge.into(), planner.createStatement());
    }
    return planner.plan();
  }

  private MergeResult one(
      MergePlan plan,
      MergeStart start,
      Optional<PostedFile> file,
      boolean sweep,
      Consumer<String> waiting) {
    String newer = new MergePlanner(warehouse, plan.merge()).newer();
    for (int tries = 1; true; tries++) {
      try (MergeRun run = new MergeRun(warehouse, plan, start, newer)) {
        return run.run(file, sweep, waiting);
      } catch (Failure failure) {
        if (!failure.passing() || tries == MOST_TRIES) {
          throw failure;
        }
      }
    }
  }

  /**
   * Fills columns of the target from the rows that were merged before, having added those that it
   * lacks.
   *
   * @return how many rows of the target were changed
   */
  public long fill(Merge merge, List<String> columns, MergeStart start) {
    return new MergeFill(warehouse, merge, columns).run(start);
  }

  /** The statements of a merge as they would run now, each with what it is for. */
  public List<MergeStep> script(Merge merge) {
    MergePlan plan = new MergePlanner(warehouse, merge).plan();
    boolean each = merge.missing().isPresent();
    MergeRequest request =
        new MergeRequest(0, false, "", Optional.empty(), false, each, Optional.empty());
    MergeScript script = MergeScript.of(plan, request, warehouse.dialect()::makeScratch);
    List<MergeStep> steps = new ArrayList<>(script.judge());
    steps.addAll(script.write());
    return steps;
  }

  /** Enters the target among those that merges take turns at. */
  private void enter(Merge merge) {
    for (String table : MergeRun.tables(merge)) {
      try {
        warehouse.transact(
            "Entering target " + table,
            c -> {
              try (PreparedStatement insert =
                  c.prepareStatement(
                      "insert into dusky.merge_target select cast(? as varchar(200))"
                          + " where not exists"
                          + " (select 1 from dusky.merge_target where into_table = ?)")) {
                insert.setString(1, table);
                insert.setString(2, table);
                insert.executeUpdate();
              }
              return null;
            });
      } catch (Failure failure) {
        boolean taken =
            failure.getCause() instanceof SQLException e && "23505".equals(e.getSQLState());
        if (!taken) {
          throw failure;
        }
        // Another merge entered it at the same moment: it is there, which is all we want.
      }
    }
  }

  /** The posted files that a merge of snapshots has not taken yet, in the order of their paths. */
  private List<PostedFile> snapshots(Merge merge) {
    if (!(merge.source() instanceof MergeSource.Landing landing)) {
      throw Failure.configuration("Merge " + merge.name() + " takes snapshots from a query")
          .next("Only files are snapshots: give a landing table under 'from'");
    }
    String sql =
        """
        select t.load_id, t.file_id, f.path, t.state
        from dusky.tally t
        join dusky.load l on l.load_id = t.load_id
        join dusky.file f on f.file_id = t.file_id
        where l.into_table = ? and t.state in ('posted', 'mended') and t.reversed_by is null
          and t.loaded_rows > 0
          and not exists (select 1 from dusky.merge_file m
            where m.merge_name = ? and m.load_id = t.load_id and m.file_id = t.file_id)
        order by f.path, t.load_id""";
    return warehouse.transact(
        "Looking for snapshots",
        c -> {
          List<PostedFile> files = new ArrayList<>();
          try (PreparedStatement query = c.prepareStatement(sql)) {
            query.setString(1, landing.table().toString());
            query.setString(2, merge.name());
            try (ResultSet row = query.executeQuery()) {
              while (row.next()) {
                files.add(
                    new PostedFile(
                        row.getLong(1),
                        row.getLong(2),
                        row.getString(3),
                        row.getString(4).equals("posted")));
              }
            }
          }
          return files;
        });
  }

  /** Whether no later snapshot was merged before: a late one takes nothing away. */
  private boolean newest(Merge merge, PostedFile file) {
    return warehouse.transact(
        "Looking for later snapshots",
        c -> {
          try (PreparedStatement query =
              c.prepareStatement(
                  "select count(*) from dusky.merge_file m"
                      + " join dusky.file f on f.file_id = m.file_id"
                      + " where m.merge_name = ? and f.path > ?")) {
            query.setString(1, merge.name());
            query.setString(2, file.path());
            try (ResultSet row = query.executeQuery()) {
              row.next();
              return row.getLong(1) == 0;
            }
          }
        });
  }

  /** Writes down that a merge failed; what it did is undone already. */
  private void note(Merge merge, MergeStart start, Failure failure) {
    try {
      warehouse.transact(
          "Noting a failed merge",
          c -> {
            MergeEntry.insert(c, merge, start, "failed", Optional.of(failure.getMessage()));
            return null;
          });
    } catch (Failure again) {
      failure.addSuppressed(again); // the warehouse itself is gone
    }
  }

  static void execute(Connection connection, String sql) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }

  static Timestamp now() {
    return Timestamp.from(Instant.now());
  }
}
