package dev.dusky.warehouses.alert;

import dev.dusky.core.alert.Alert;
import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.AlertMessage.Event;
import dev.dusky.core.alert.Condition;
import dev.dusky.core.failure.Failure;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.ledger.LedgerText;
import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jdbi.v3.core.Handle;

/**
 * Alerts in {@code dusky.alert}. Processes enter what they found one after the other: each locks
 * the row of {@code dusky.alert_turn}. Messages are taken by locks that end with the connection.
 */
public final class JdbcAlertEntries implements AlertEntries {

  private static final String OPEN =
      """
      select alert_id, kind, about, words, command, changes, opened_at, changed_at,
             acknowledged_by, acknowledged_at
      from dusky.alert where open_key is not null order by opened_at, alert_id""";

  private static final String INSERT =
      """
      insert into dusky.alert (open_key, kind, about, print, words, command, changes, opened_at,
        changed_at)
      values (:key, :kind, :about, :print, :words, :command, 0, :now, :now)""";

  /** A condition that has changed needs somebody again. */
  private static final String CHANGE =
      """
      update dusky.alert set print = :print, words = :words, command = :command,
        changes = changes + 1, changed_at = :now, acknowledged_at = null, acknowledged_by = null
      where alert_id = :id""";

  private static final String END =
      """
      update dusky.alert set open_key = null, changes = changes + 1, over_at = :now
      where alert_id = :id""";

  private static final String MESSAGE =
      """
      insert into dusky.alert_message (alert_id, event, change_number, target, words, state,
        attempts, entered_at, due_at)
      select alert_id, cast(:event as varchar(20)), changes, cast(:target as varchar(200)), words,
        'due', 0, cast(:now as timestamp with time zone), cast(:due as timestamp with time zone)
      from dusky.alert where alert_id = :id""";

  private final Database database;

  /** The alerts of that database's ledger. */
  public JdbcAlertEntries(Database database) {
    this.database = database;
  }

  @Override
  public List<Alert> open() {
    return database.look(
        "Reading alerts", h -> h.createQuery(OPEN).map((row, c) -> alert(row)).list());
  }

  private static Alert alert(java.sql.ResultSet row) throws java.sql.SQLException {
    String by = row.getString("acknowledged_by");
    return new Alert(
        row.getLong("alert_id"),
        AlertKind.of(row.getString("kind")).orElseThrow(),
        row.getString("about"),
        row.getString("words"),
        row.getString("command"),
        row.getInt("changes"),
        row.getTimestamp("opened_at").toInstant(),
        row.getTimestamp("changed_at").toInstant(),
        by == null
            ? Optional.empty()
            : Optional.of(by + " at " + row.getTimestamp("acknowledged_at").toInstant()));
  }

  private record Known(long id, String key, String print, Condition condition) {}

  @Override
  public int enter(
      Collection<AlertKind> kinds,
      Collection<String> about,
      List<Condition> conditions,
      Function<Condition, Map<String, Instant>> routes,
      Instant now) {
    return database.transact(
        "Entering alerts",
        h -> {
          h.createQuery("select turn from dusky.alert_turn for update").mapTo(Integer.class).one();
          int entered = 0;
          Set<String> found = new HashSet<>();
          for (Condition condition : conditions) {
            found.add(key(condition));
            entered += condition(h, condition, routes, now);
          }
          for (Known known : known(h, kinds, about)) {
            if (!found.contains(known.key())) {
              h.createUpdate(END).bind("id", known.id()).bind("now", now).execute();
              Map<String, Instant> targets = routes.apply(known.condition());
              entered += messages(h, known.id(), Event.OVER, targets, now);
            }
          }
          return entered;
        });
  }

  private static String key(Condition condition) {
    return condition.kind().label() + " " + condition.about();
  }

  private static int condition(
      Handle h,
      Condition condition,
      Function<Condition, Map<String, Instant>> routes,
      Instant now) {
    Optional<Map.Entry<Long, String>> before =
        h.createQuery("select alert_id, print from dusky.alert where open_key = :key")
            .bind("key", key(condition))
            .map((row, c) -> Map.entry(row.getLong("alert_id"), row.getString("print")))
            .findFirst();
    String print = LedgerText.fit(condition.print(), 1000);
    if (before.isPresent() && before.get().getValue().equals(print)) {
      return 0;
    }
    var statement = h.createUpdate(before.isPresent() ? CHANGE : INSERT);
    statement
        .bind("id", before.map(Map.Entry::getKey).orElse(0L))
        .bind("key", key(condition))
        .bind("kind", condition.kind().label())
        .bind("about", condition.about())
        .bind("print", print)
        .bind("words", LedgerText.fit(condition.words(), 4000))
        .bind("command", LedgerText.fit(condition.command(), 1000))
        .bind("now", now);
    long id;
    if (before.isPresent()) {
      statement.execute();
      id = before.get().getKey();
    } else {
      id = statement.executeAndReturnGeneratedKeys("alert_id").mapTo(Long.class).one();
    }
    Event event = before.isPresent() ? Event.CHANGED : Event.OPEN;
    return messages(h, id, event, routes.apply(condition), now);
  }

  private static List<Known> known(
      Handle h, Collection<AlertKind> kinds, Collection<String> about) {
    return h.createQuery(
            "select alert_id, open_key, kind, about, print, words, command from dusky.alert"
                + " where open_key is not null and kind = any(:kinds) and about = any(:about)")
        .bindArray("kinds", String.class, kinds.stream().map(AlertKind::label).toArray())
        .bindArray("about", String.class, about.toArray())
        .map(
            (row, c) ->
                new Known(
                    row.getLong("alert_id"),
                    row.getString("open_key"),
                    row.getString("print"),
                    new Condition(
                        AlertKind.of(row.getString("kind")).orElseThrow(),
                        row.getString("about"),
                        row.getString("print"),
                        row.getString("words"),
                        row.getString("command"))))
        .list();
  }

  private static int messages(
      Handle h, long id, Event event, Map<String, Instant> targets, Instant now) {
    targets.forEach(
        (target, due) ->
            h.createUpdate(MESSAGE)
                .bind("id", id)
                .bind("event", event.label())
                .bind("target", target)
                .bind("now", now)
                .bind("due", due)
                .execute());
    return targets.size();
  }

  @Override
  public boolean acknowledge(long id, String by, Instant now) {
    return database.transact(
            "Acknowledging alert " + id,
            h ->
                h.createUpdate(
                        "update dusky.alert set acknowledged_by = :by, acknowledged_at = :now"
                            + " where alert_id = :id and open_key is not null")
                    .bind("by", by)
                    .bind("now", now)
                    .bind("id", id)
                    .execute())
        > 0;
  }

  @Override
  public void proved(String name, boolean agrees, String words, Instant now) {
    database.transact(
        "Noting the proof of " + name,
        h -> {
          h.createUpdate("delete from dusky.proof where name = :name").bind("name", name).execute();
          return h.createUpdate("insert into dusky.proof values (:name, :agrees, :words, :now)")
              .bind("name", name)
              .bind("agrees", agrees)
              .bind("words", LedgerText.fit(words, 4000))
              .bind("now", now)
              .execute();
        });
  }

  @Override
  public Optional<String> disagrees(String name) {
    return database.look(
        "Reading the proof of " + name,
        h ->
            h.createQuery("select words from dusky.proof where name = :name and not agrees")
                .bind("name", name)
                .mapTo(String.class)
                .findFirst());
  }

  @Override
  public Optional<Due> due(String target, Instant now, int most) {
    Handle own = database.connect();
    try {
      List<AlertMessage> messages =
          database.runOrUndo(
              own, "Taking messages", h -> JdbcDue.take(h, database, target, now, most));
      if (!messages.isEmpty()) {
        return Optional.of(new JdbcDue(database, own, messages));
      }
    } catch (Failure failure) {
      database.release(own);
      throw failure;
    }
    database.release(own);
    return Optional.empty();
  }
}
