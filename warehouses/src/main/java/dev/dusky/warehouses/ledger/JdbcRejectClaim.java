package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.MendOutcome;
import dev.dusky.core.ledger.RejectClaim;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tally.Tally;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jdbi.v3.core.Handle;

/** The claim on some rejects of one file: row locks that die with their connection. */
final class JdbcRejectClaim implements RejectClaim {

  private final Database database;
  private final Handle handle;
  private final JdbcRunningLoad load;
  private final StoredReject any;
  private final Set<Long> held = new HashSet<>();

  JdbcRejectClaim(Database database, Handle handle, JdbcRunningLoad load, StoredReject any) {
    this.database = database;
    this.handle = handle;
    this.load = load;
    this.any = any;
  }

  /**
   * Locks those that are open, of a file that is posted; the file's entry is locked too, so that it
   * cannot be reversed meanwhile.
   */
  void take(Collection<Long> rejects) {
    String clause = database.dialect().claimClause();
    Optional<String> state =
        handle
            .createQuery("select state from dusky.file where file_id = :file " + clause)
            .bind("file", any.fileId())
            .mapTo(String.class)
            .findFirst();
    if (!state.equals(Optional.of("posted"))) {
      return;
    }
    held.addAll(
        handle
            .createQuery(
                "select reject_id from dusky.reject where file_id = :file and state = 'open'"
                    + " and reject_id = any(:ids) "
                    + clause)
            .bind("file", any.fileId())
            .bindArray("ids", Long.class, rejects)
            .mapTo(Long.class)
            .list());
  }

  @Override
  public Set<Long> held() {
    return Set.copyOf(held);
  }

  @Override
  public Transaction transaction() {
    return JdbcTransaction.of(handle);
  }

  @Override
  public void settle(MendOutcome outcome) {
    database.run(
        handle,
        "Mending rejects of " + any.file().path(),
        h -> {
          insertTally(outcome);
          TotalRows.insert(h.getConnection(), load.id(), any.fileId(), outcome.totals());
          settleMended(outcome);
          for (Map.Entry<Long, MendOutcome.StillWrong> entry : outcome.wrong().entrySet()) {
            renew(entry.getKey(), entry.getValue());
          }
          h.getConnection().commit();
          return null;
        });
  }

  private void insertTally(MendOutcome outcome) throws SQLException {
    Tally tally = outcome.tally();
    handle
        .createUpdate(
            """
            insert into dusky.tally (load_id, file_id, state, read_rows, loaded_rows,
              duplicate_rows, rejected_rows, filtered_rows, withheld_rows, stored_bytes,
              content_bytes, elapsed_ms, written_at)
            values (:load, :file, 'mended', :read, :loaded, :duplicate, :rejected, :filtered, 0, 0,
              0, :elapsed, :at)""")
        .bind("load", load.id())
        .bind("file", any.fileId())
        .bind("read", tally.read())
        .bind("loaded", tally.loaded())
        .bind("duplicate", tally.duplicate())
        .bind("rejected", tally.rejected())
        .bind("filtered", tally.filtered())
        .bind("elapsed", outcome.elapsed().toMillis())
        .bind("at", Instant.now())
        .execute();
    Seal.tally(handle, load.id(), any.fileId());
  }

  private void settleMended(MendOutcome outcome) {
    handle
        .createUpdate(
            "update dusky.reject set state = 'mended', settled_at = :at, settled_by = :by,"
                + " settled_load = :load where reject_id = any(:ids)")
        .bind("at", Instant.now())
        .bind("by", load.start().startedBy())
        .bind("load", load.id())
        .bindArray("ids", Long.class, outcome.mended())
        .execute();
  }

  private void renew(long reject, MendOutcome.StillWrong wrong) throws SQLException {
    handle
        .createUpdate("delete from dusky.reject_problem where reject_id = :id")
        .bind("id", reject)
        .execute();
    handle
        .createUpdate(
            "update dusky.reject set tried_record = :tried, problem_count = :problems"
                + " where reject_id = :id")
        .bind("tried", wrong.tried())
        .bind("problems", wrong.problems().size())
        .bind("id", reject)
        .execute();
    try (PreparedStatement problems = RejectRows.insertProblems(handle.getConnection())) {
      RejectRows.addProblems(problems, reject, wrong.problems());
      problems.executeBatch();
    }
  }

  @Override
  public void close() {
    database.undo(handle);
    load.giveBack(handle);
  }
}
