package dev.dusky.warehouses.alert;

import dev.dusky.core.alert.AlertEntries.Due;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.AlertMessage.Event;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.ledger.LedgerText;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jdbi.v3.core.Handle;

/** Messages that are locked on a connection until they are settled. */
final class JdbcDue implements Due {

  private final Database database;
  private final Handle handle;
  private final List<AlertMessage> messages;

  JdbcDue(Database database, Handle handle, List<AlertMessage> messages) {
    this.database = database;
    this.handle = handle;
    this.messages = List.copyOf(messages);
  }

  /** Locks and reads messages that are due to a target. */
  static List<AlertMessage> take(
      Handle handle, Database database, String target, Instant now, int most) {
    List<Long> ids =
        handle
            .createQuery(
                "select message_id from dusky.alert_message where target = :target"
                    + " and state = 'due' and due_at <= :now order by message_id"
                    + " fetch first %d rows only %s"
                        .formatted(most, database.dialect().claimClause()))
            .bind("target", target)
            .bind("now", now)
            .mapTo(Long.class)
            .list();
    return ids.isEmpty()
        ? List.of()
        : handle
            .createQuery(
                """
                select m.message_id, m.alert_id, m.event, m.change_number, a.kind, a.about, m.words,
                       a.command, m.entered_at, m.attempts
                from dusky.alert_message m join dusky.alert a on a.alert_id = m.alert_id
                where m.message_id = any(:ids) order by m.message_id""")
            .bindArray("ids", Long.class, ids.toArray())
            .map(
                (row, context) ->
                    new AlertMessage(
                        row.getLong("message_id"),
                        row.getLong("alert_id"),
                        Event.of(row.getString("event")),
                        row.getInt("change_number"),
                        AlertKind.of(row.getString("kind")).orElseThrow(),
                        row.getString("about"),
                        row.getString("words"),
                        row.getString("command"),
                        row.getTimestamp("entered_at").toInstant(),
                        row.getInt("attempts")))
            .list();
  }

  @Override
  public List<AlertMessage> messages() {
    return messages;
  }

  @Override
  public void sent(Instant now) {
    settle("state = 'sent', sent_at = :at, failure = null", Optional.of(now), "");
  }

  @Override
  public void failed(String why, Optional<Instant> again) {
    settle(
        again.isPresent()
            ? "attempts = attempts + 1, due_at = :at, failure = :why"
            : "attempts = attempts + 1, state = 'dropped', failure = :why",
        again,
        why);
  }

  private void settle(String change, Optional<Instant> at, String why) {
    database.runOrUndo(
        handle,
        "Settling messages",
        h -> {
          h.createUpdate(
                  "update dusky.alert_message set " + change + " where message_id = any(:ids)")
              .bindArray("ids", Long.class, messages.stream().map(AlertMessage::id).toArray())
              .bind("at", at.orElse(Instant.EPOCH))
              .bind("why", LedgerText.fit(why, 4000))
              .execute();
          h.getConnection().commit();
          return null;
        });
  }

  @Override
  public void close() {
    database.release(handle);
  }
}
