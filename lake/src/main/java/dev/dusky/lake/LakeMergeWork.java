package dev.dusky.lake;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.usage.Meter;
import dev.dusky.lake.engine.EngineRefusal;
import dev.dusky.lake.engine.EngineSessions;
import dev.dusky.lake.engine.EngineTurn;
import dev.dusky.warehouses.merging.MergeWork;
import dev.dusky.warehouses.merging.Pass;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergeScript;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jdbi.v3.core.Handle;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One merge on the engine. The engine writes data files and metadata that nobody sees yet; at the
 * end the tables' pointers move in the ledger's transaction. What the statements need of the ledger
 * goes to the engine as small tables.
 */
final class LakeMergeWork implements MergeWork {

  private static final Logger LOG = LoggerFactory.getLogger(LakeMergeWork.class);

  private static final int BATCH = 1000;

  private final LakeTables tables;
  private final EngineSessions engine;
  private final Handle ledger;
  private final LedgerExtract extract;
  private Optional<EngineTurn> turn = Optional.empty();

  LakeMergeWork(LakeTables tables, EngineSessions engine, Handle ledger, Merge merge) {
    this.tables = tables;
    this.engine = engine;
    this.ledger = ledger;
    this.extract = new LedgerExtract(ledger, merge.name());
  }

  private EngineTurn turn() {
    if (turn.isEmpty()) {
      turn = Optional.of(engine.open(ledger.getConnection()));
    }
    return turn.get();
  }

  private <T> T asked(String sql, Supplier<T> work) {
    extract.give(turn(), sql);
    try {
      return Meter.waiting(work::get);
    } catch (EngineRefusal e) {
      LOG.debug("refused: {}", sql);
      throw tables.failures().refused("The merge", e);
    }
  }

  @Override
  public boolean returnsMerged() {
    return false;
  }

  @Override
  public boolean returnsReplaced() {
    return false;
  }

  @Override
  public void make(String name, String query) {
    asked(query, () -> turn().make(name, query));
  }

  @Override
  public long run(MergeStep step) {
    long began = System.nanoTime();
    long rows =
        asked(
            step.sql(),
            () ->
                step.makesTable()
                    ? turn().make(step.into(), step.sql())
                    : WholeInsert.run(turn(), step.sql()));
    LOG.debug("{} ms: {}", (System.nanoTime() - began) / 1_000_000, step.comment());
    return Math.abs(rows);
  }

  @Override
  public Pass pass(MergeStep step, MergeScript script, boolean alone, int totals) {
    throw new IllegalStateException("the engine judges before it writes");
  }

  @Override
  public void chosen(String scratch, long rows) {
    engine.refresh(turn(), ledger.getConnection());
    extract.giveChosen(turn(), scratch);
  }

  @Override
  public void made(String scratch, boolean ordered) {
    // The engine looks at what it has itself.
  }

  @Override
  public void beforeWriting(boolean unique) {
    // Nothing to prepare.
  }

  @Override
  public void read(String query, Consumer<List<Object>> row) {
    asked(
        query,
        () -> {
          turn().read(query, columns -> {}, row);
          return null;
        });
  }

  @Override
  public void enter(String into, String query) throws SQLException {
    List<List<Object>> rows = new ArrayList<>();
    read(query, rows::add);
    if (rows.isEmpty()) {
      return;
    }
    String places = rows.get(0).stream().map(value -> "?").collect(Collectors.joining(", "));
    try (PreparedStatement insert =
        ledger
            .getConnection()
            .prepareStatement("insert into %s values (%s)".formatted(into, places))) {
      int waiting = 0;
      for (List<Object> row : rows) {
        for (int i = 0; i < row.size(); i++) {
          insert.setObject(i + 1, row.get(i));
        }
        insert.addBatch();
        if (++waiting % BATCH == 0) {
          insert.executeBatch();
        }
      }
      insert.executeBatch();
    }
  }

  @Override
  public List<String> missingIndexes(MergePlan plan) {
    return List.of();
  }

  @Override
  public void complete() {
    if (turn.isPresent() && !engine.complete(turn.get(), ledger.getConnection())) {
      throw Failure.warehouse("The merge was judged on tables that have changed since")
          .because("another process changed a table that it writes")
          .hint("Run it again. Nothing was changed")
          .asPassing();
    }
  }

  @Override
  public void close() {
    turn.ifPresent(EngineTurn::close);
    turn = Optional.empty();
  }
}
