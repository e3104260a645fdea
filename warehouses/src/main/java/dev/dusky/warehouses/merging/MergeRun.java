package dev.dusky.warehouses.merging;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeChange;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.merge.MergeStep.Effect;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.usage.Meter;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Identifiers;
import dev.dusky.warehouses.connection.SqlFailures;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergeRequest;
import dev.dusky.warehouses.script.MergeRequest.PostedFile;
import dev.dusky.warehouses.script.MergeScript;
import java.sql.SQLException;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jdbi.v3.core.Handle;
import org.jdbi.v3.core.JdbiException;

/**
 * One merge in one transaction: the target is held, the landed rows are judged, counted and
 * written, and the ledger's entry commits with them, or all of it is undone.
 */
final class MergeRun implements AutoCloseable {

  private final Database database;
  private final MergeTables tables;
  private final MergePlan plan;
  private final Merge merge;
  private final MergeStart start;
  private final String newer;
  private final Handle handle;
  private final MergeWork work;
  private final long startNanos = System.nanoTime();
  private final Map<String, Long> placeholders = new HashMap<>();
  private boolean idle;
  private long added;
  private long removed;
  private Optional<Pass> pass = Optional.empty();
  private Meter meter;

  MergeRun(Database database, MergeTables tables, MergePlan plan, MergeStart start, String newer) {
    this.database = database;
    this.tables = tables;
    this.plan = plan;
    this.merge = plan.merge();
    this.start = start;
    this.newer = newer;
    this.handle = database.connect();
    this.work = tables.open(handle, merge);
  }

  /** The tables that a merge writes, in the order in which it takes hold of them. */
  static List<String> tables(Merge merge) {
    TreeSet<String> tables = new TreeSet<>();
    tables.add(merge.into().toString());
    for (Lookup lookup : merge.lookups()) {
      if (lookup.unknown() instanceof Unknown.Placeholder) {
        tables.add(lookup.table().toString());
      }
    }
    return List.copyOf(tables);
  }

  MergeResult run(Optional<PostedFile> file, boolean sweep, Consumer<String> waiting) {
    try (Meter opened = Meter.open()) {
      meter = opened;
      return merge(file, sweep, waiting);
    } catch (SQLException | JdbiException e) {
      throw explained(Database.sqlException(e));
    }
  }

  private MergeResult merge(Optional<PostedFile> file, boolean sweep, Consumer<String> waiting)
      throws SQLException {
    boolean rehearsed = start.rehearsed().isPresent();
    if (!rehearsed) {
      hold(waiting);
    }
    MergeChecks checks = new MergeChecks(tables, work, plan);
    checks.dimensions();
    boolean twice = merge.history().isEmpty() && !plan.unique() && checks.twice();
    MergeEntry entry = MergeEntry.open(handle, plan, start);
    long id = entry.id();
    long retried = start.retry() ? retry(id) : 0;
    MergeTotals totals = new MergeTotals(handle, work, plan, id);
    MergeRequest request =
        new MergeRequest(
            id,
            start.retry(),
            newer,
            highWater(),
            twice,
            sweep,
            file,
            !rehearsed && work.returnsMerged(),
            totals.known() && work.returnsReplaced());
    MergeScript script = MergeScript.of(plan, request, tables.scratch());
    Optional<Long> before = firstRows();
    long expected = judge(script, request, retried);
    MergeTally tally =
        idle
            ? MergeTally.NONE
            : new MergeCensus(merge, work, script, request).count(expected, pass);
    if (tally.landed() == 0 && tally.missing() == 0) {
      handle.getConnection().rollback();
      return result(0, file, tally, List.of(), List.of(), 0, List.of());
    }
    List<MergeResult.Rejected> rejects = entry.rejects(work);
    totals.judge(sweep, pass.map(Pass::sums).orElse(List.of()));
    MergeChanges changes = new MergeChanges(work, plan);
    if (rehearsed) {
      changes.before(sweep);
    }
    work.beforeWriting(plan.unique());
    for (MergeStep step : script.write()) {
      run(step);
    }
    if (rehearsed) {
      changes.after(start.rehearsed().getAsLong());
      handle.getConnection().rollback();
      return result(0, file, tally, rejects, changes.shown(), changes.all(), List.of());
    }
    entry.consume(placeholders);
    entry.complete(tally, before, added, removed, meter.usage());
    List<String> advice = work.missingIndexes(plan);
    work.complete();
    handle.getConnection().commit();
    return result(id, file, tally, rejects, List.of(), 0, advice);
  }

  private MergeResult result(
      long id,
      Optional<PostedFile> file,
      MergeTally tally,
      List<MergeResult.Rejected> rejects,
      List<MergeChange> changes,
      long all,
      List<String> advice) {
    return new MergeResult(
        merge.name(),
        merge.into().toString(),
        id,
        file.map(PostedFile::path).orElse(""),
        tally,
        rejects,
        changes,
        all,
        advice,
        plan.spare(),
        Duration.ofNanos(System.nanoTime() - startNanos));
  }

  /** Waits for its turn at the tables it writes. */
  private void hold(Consumer<String> waiting) {
    for (String table : tables(merge)) {
      String row = "select into_table from dusky.merge_target where into_table = :table for update";
      if (!locked(row + " skip locked", table)) {
        waiting.accept(table);
        locked(row, table);
      }
    }
  }

  private boolean locked(String sql, String table) {
    return handle.createQuery(sql).bind("table", table).mapTo(String.class).findFirst().isPresent();
  }

  /** Takes the rejects of this merge up again whose rows are still in the landing table. */
  private long retry(long id) {
    return handle
        .createUpdate(
            "update dusky.merge_reject r set state = 'retried', retried_by = :by"
                + " where r.merge_name = :name and r.state = 'open' and exists (select 1"
                + " from dusky.tally t where t.load_id = r.load_id and t.file_id = r.file_id"
                + " and t.state in ('posted', 'mended') and t.reversed_by is null)")
        .bind("by", id)
        .bind("name", merge.name())
        .execute();
  }

  private Optional<String> highWater() throws SQLException {
    if (merge.newer().isEmpty()) {
      return Optional.empty();
    }
    String name = merge.newer().get();
    TableColumn column =
        plan.target()
            .column(name)
            .orElseThrow(
                () ->
                    Failure.warehouse(
                            "Merge %s takes only newer rows by %s".formatted(merge.name(), name))
                        .because("the target has no such column"));
    Optional<String> greatest =
        work
            .texts(
                "select cast(max(%s) as varchar) from %s"
                    .formatted(Identifiers.quote(name), Identifiers.quote(merge.into())))
            .stream()
            .filter(Objects::nonNull)
            .findFirst();
    return greatest.map(g -> "cast('%s' as %s)".formatted(g.replace("'", "''"), column.typeText()));
  }

  /**
   * Runs the judging steps, unless no file waits.
   *
   * @return how many rows have landed by the ledger, or -1 if unknown
   */
  private long judge(MergeScript script, MergeRequest request, long retried) throws SQLException {
    boolean landing = merge.source() instanceof MergeSource.Landing;
    long expected = start.retry() && landing ? retried : -1;
    boolean ties = false;
    for (MergeStep step : script.judge()) {
      if (step.effect() == Effect.TIES && !ties) {
        continue;
      }
      if (step.effect() == Effect.PASS) {
        pass =
            Optional.of(work.pass(step, script, merge.lookups().isEmpty(), merge.totals().size()));
        added += pass.get().inserted();
        continue;
      }
      if (step.effect() == Effect.CHOOSE) {
        handle.execute(database.dialect().makeScratch(step.into(), step.sql()));
        expected = hold(step.into());
        if (expected == 0 && !request.sweep()) {
          idle = true;
          break;
        }
        work.chosen(step.into(), expected);
        continue;
      }
      run(step);
      if (step.effect() == Effect.RANK) {
        ties =
            work.number("select count(*) from %s where dusky_rank > 1".formatted(step.into())) > 0;
      }
      if (step.makesTable()) {
        work.made(step.into(), plan.unique() && merge.history().isEmpty());
      }
    }
    return expected;
  }

  /**
   * Locks the chosen files, so that no other process takes their rows out meanwhile. Leaves out
   * those that others hold or have reversed; returns how many rows are left.
   *
   * @param chosen the scratch table of the files
   */
  private long hold(String chosen) {
    List<Long> held =
        handle
            .createQuery(
                "select file_id from dusky.file where file_id in (select file_id from %s) %s"
                    .formatted(chosen, database.dialect().claimClause()))
            .mapTo(Long.class)
            .list();
    if (number("select count(distinct file_id) from " + chosen) != held.size()) {
      handle
          .createUpdate("delete from %s where file_id <> all (:held)".formatted(chosen))
          .bindArray("held", Long.class, held)
          .execute();
    }
    handle.execute(
        """
        delete from %s where not exists (select 1 from dusky.tally t
          where t.load_id = %s.load_id and t.file_id = %s.file_id
            and t.reversed_by is null)"""
            .formatted(chosen, chosen, chosen));
    return number("select coalesce(sum(loaded_rows), 0) from " + chosen);
  }

  private void run(MergeStep step) throws SQLException {
    long rows = work.run(step);
    if (step.effect() == Effect.ADD) {
      added += rows;
    } else if (step.effect() == Effect.REMOVE) {
      removed += rows;
    } else if (step.effect() == Effect.PLACEHOLDER && rows > 0) {
      placeholders.merge(step.into(), rows, Long::sum);
    } else if (step.effect() == Effect.WITHDRAW && rows > 0) {
      placeholders.merge(step.into(), -rows, Long::sum);
      placeholders.values().removeIf(count -> count == 0);
    }
  }

  /** How many rows the target had before the first merge into it, if this is the first. */
  private Optional<Long> firstRows() throws SQLException {
    long earlier =
        handle
            .createQuery(
                "select count(*) from dusky.merge_run where state = 'done' and into_table = :into")
            .bind("into", merge.into().toString())
            .mapTo(Long.class)
            .one();
    return earlier > 1
        ? Optional.empty()
        : Optional.of(work.number("select count(*) from " + Identifiers.quote(merge.into())));
  }

  private long number(String sql) {
    return handle.createQuery(sql).mapTo(Long.class).one();
  }

  private Failure explained(SQLException e) {
    String state = String.valueOf(e.getSQLState());
    if (state.startsWith("23") || state.startsWith("22")) {
      database.undo(handle);
      return Failure.warehouse(
              "Merge %s into %s was refused by the database".formatted(merge.name(), merge.into()))
          .because(SqlFailures.firstLine(e))
          .hint("Correct the rows, the merge or the target. Nothing was changed")
          .from(e);
    }
    return database.failed(handle, "Merge %s into %s".formatted(merge.name(), merge.into()), e);
  }

  @Override
  public void close() {
    work.close();
    database.release(handle);
  }
}
