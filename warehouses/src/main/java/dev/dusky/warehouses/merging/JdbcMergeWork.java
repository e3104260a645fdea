package dev.dusky.warehouses.merging;

import dev.dusky.core.merge.MergeStep;
import dev.dusky.core.usage.Meter;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.Dialect;
import dev.dusky.warehouses.connection.StatementRun;
import dev.dusky.warehouses.script.MergePlan;
import dev.dusky.warehouses.script.MergeScript;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import org.jdbi.v3.core.Handle;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Work on tables that are in the ledger's database: the ledger's transaction is theirs. */
final class JdbcMergeWork implements MergeWork {

  private static final Logger LOG = LoggerFactory.getLogger(JdbcMergeWork.class);

  private static final int FETCH = 1000;

  private final Dialect dialect;
  private final Handle handle;

  JdbcMergeWork(Database database, Handle handle) {
    this.dialect = database.dialect();
    this.handle = handle;
  }

  private Connection connection() {
    return handle.getConnection();
  }

  @Override
  public boolean returnsMerged() throws SQLException {
    return dialect.returnsMerged(connection());
  }

  @Override
  public boolean returnsReplaced() throws SQLException {
    return dialect.returnsReplaced(connection());
  }

  @Override
  public void make(String name, String query) throws SQLException {
    execute(dialect.makeScratch(name, query));
  }

  private void execute(String sql) throws SQLException {
    try (Statement statement = connection().createStatement()) {
      statement.execute(sql);
    }
  }

  private void execute(List<String> statements) throws SQLException {
    for (String sql : statements) {
      execute(sql);
    }
  }

  @Override
  public long run(MergeStep step) throws SQLException {
    try (Statement statement = connection().createStatement()) {
      long began = System.nanoTime();
      Meter.waiting(() -> statement.execute(step.sql()));
      LOG.debug("{} ms: {}", (System.nanoTime() - began) / 1_000_000, step.comment());
      return statement.getLargeUpdateCount();
    }
  }

  @Override
  public Pass pass(MergeStep step, MergeScript script, boolean alone, int totals)
      throws SQLException {
    execute(dialect.mergeInOrder(alone));
    return Pass.run(connection(), step, script, totals);
  }

  @Override
  public void chosen(String scratch, long rows) throws SQLException {
    execute(dialect.sortMemory(rows));
  }

  @Override
  public void made(String scratch, boolean ordered) throws SQLException {
    Optional<String> count = dialect.countScratch(scratch);
    if (count.isPresent() && !ordered) {
      execute(count.get());
    }
  }

  @Override
  public void beforeWriting(boolean unique) throws SQLException {
    execute(dialect.writeInOrder(unique));
  }

  @Override
  public void read(String query, Consumer<List<Object>> row) throws SQLException {
    try (Statement statement = connection().createStatement()) {
      statement.setFetchSize(FETCH);
      try (ResultSet result = statement.executeQuery(query)) {
        int columns = result.getMetaData().getColumnCount();
        while (result.next()) {
          List<Object> values = new ArrayList<>(columns);
          for (int i = 1; i <= columns; i++) {
            values.add(StatementRun.readable(result, i));
          }
          row.accept(values);
        }
      }
    }
  }

  @Override
  public void enter(String into, String query) throws SQLException {
    execute("insert into %s\n%s".formatted(into, query));
  }

  @Override
  public List<String> missingIndexes(MergePlan plan) {
    return new MissingIndexes(dialect, handle, plan).statements();
  }

  @Override
  public void complete() {
    // The transaction is the ledger's own.
  }

  @Override
  public void close() {
    // The handle is released by who opened it.
  }
}
