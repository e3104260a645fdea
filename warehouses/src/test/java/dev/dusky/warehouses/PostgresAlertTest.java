package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.Condition;
import dev.dusky.core.concurrent.Together;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouses;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class PostgresAlertTest extends AlertContract {

  @Override
  DatabaseSettings address() throws Exception {
    return TestPostgres.newDatabase();
  }

  /** Of many that find the same at the same time one enters it, and one sends each message. */
  @Test
  void manyAtOnceTellItOnce() {
    DatabaseSettings database = ((JdbcWarehouse) warehouse).database().settings();
    Instant now = Instant.parse("2026-03-02T06:00:00Z");
    List<Integer> sent =
        Together.map(
            List.of(1, 2, 3, 4, 5, 6, 7, 8),
            8,
            process -> {
              int messages = 0;
              try (var own = Warehouses.open(database)) {
                for (int round = 0; round < 20; round++) {
                  Condition condition =
                      new Condition(AlertKind.REJECTS, "farms", "p" + round / 5, "w", "c");
                  own.alerts()
                      .enter(
                          EnumSet.allOf(AlertKind.class),
                          List.of("farms"),
                          List.of(condition),
                          c -> Map.of("duty", now),
                          now);
                  try (var due = own.alerts().due("duty", now, 1).orElse(null)) {
                    if (due != null) {
                      messages += due.messages().size();
                      due.sent(now);
                    }
                  }
                }
              }
              return messages;
            });
    assertEquals(1, warehouse.alerts().open().size());
    long left = count("dusky.alert_message where state = 'due'");
    assertEquals(count("dusky.alert_message"), sent.stream().mapToLong(n -> n).sum() + left);
    assertEquals(
        warehouse.alerts().open().get(0).changes() + 1L,
        count("(select distinct alert_id, change_number from dusky.alert_message) m"));
  }
}
