package dev.dusky.warehouses.ledger;

import dev.dusky.core.ledger.LoadStart;
import dev.dusky.core.ledger.LoadState;
import dev.dusky.warehouses.connection.Dialect;
import java.time.Instant;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** The entries of loads in {@code dusky.load}. */
public final class LoadRows {

  private LoadRows() {}

  /** Enters a load that runs, and returns its number. */
  public static long insert(Handle handle, LoadStart start) {
    return handle
        .createUpdate(
            """
            insert into dusky.load (feed, into_table, state, started_at, started_by, host,
              tool_version, declared, kind)
            values (:feed, :into, 'running', :at, :by, :host, :version, :declared, :kind)""")
        .bind("feed", start.feed())
        .bind("into", start.into())
        .bind("at", start.at())
        .bind("by", start.startedBy())
        .bind("host", start.host())
        .bind("version", start.toolVersion())
        .bind("declared", start.declared())
        .bind("kind", start.kind().label())
        .executeAndReturnGeneratedKeys("load_id")
        .mapTo(Long.class)
        .one();
  }

  /** Locks a load's entry; false if it no longer runs or another session holds it. */
  static boolean lock(Handle handle, Dialect dialect, long id) {
    Optional<String> state =
        handle
            .createQuery(
                "select state from dusky.load where load_id = :id " + dialect.claimClause())
            .bind("id", id)
            .mapTo(String.class)
            .findFirst();
    return state.equals(Optional.of(LoadState.RUNNING.label()));
  }

  /** Enters how a load ended. */
  public static void end(Handle handle, long id, LoadState state, String message) {
    handle
        .createUpdate(
            "update dusky.load set state = :state, ended_at = :at, message = :message"
                + " where load_id = :id")
        .bind("state", state.label())
        .bind("at", Instant.now())
        .bind("message", message.isEmpty() ? null : LedgerText.fit(message, 4000))
        .bind("id", id)
        .execute();
  }
}
