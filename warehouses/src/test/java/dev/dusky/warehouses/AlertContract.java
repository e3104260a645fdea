package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.alert.Alert;
import dev.dusky.core.alert.AlertEntries;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.alert.AlertMessage;
import dev.dusky.core.alert.Condition;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.Function;
import org.junit.jupiter.api.Test;

/** Alerts and their messages, against a model of what should be open and what should be said. */
abstract class AlertContract extends WarehouseTesting {

  private static final Instant START = Instant.parse("2026-03-02T06:00:00Z");
  private static final List<String> NAMES = List.of("collections", "farms", "it's");
  private static final AlertKind[] KINDS = {
    AlertKind.FILE_REFUSED, AlertKind.REJECTS, AlertKind.BOOKS
  };

  private static Condition condition(AlertKind kind, String about, int print) {
    return new Condition(kind, about, "print " + print, "It is " + print, "dusky files");
  }

  private static Function<Condition, Map<String, Instant>> to(Instant due, String... targets) {
    Map<String, Instant> routes = new HashMap<>();
    for (String target : targets) {
      routes.put(target, due);
    }
    return condition -> routes;
  }

  private int enter(List<Condition> conditions, Instant now, String... targets) {
    return warehouse
        .alerts()
        .enter(EnumSet.allOf(AlertKind.class), NAMES, conditions, to(now, targets), now);
  }

  private List<String> sent(String target, Instant now) {
    List<String> sent = new ArrayList<>();
    Optional<AlertEntries.Due> due = warehouse.alerts().due(target, now, 7);
    while (due.isPresent()) {
      for (AlertMessage message : due.get().messages()) {
        sent.add(
            "%s %s %s %s"
                .formatted(
                    message.event().label(),
                    message.kind().label(),
                    message.about(),
                    message.words()));
      }
      due.get().sent(now);
      due.get().close();
      due = warehouse.alerts().due(target, now, 7);
    }
    return sent;
  }

  @Test
  void eachChangeIsToldOnceToEachTarget() {
    Random random = new Random(21);
    Map<String, Integer> model = new HashMap<>();
    for (int round = 0; round < 60; round++) {
      Instant now = START.plusSeconds(round * 60L);
      List<Condition> conditions = new ArrayList<>();
      List<String> expected = new ArrayList<>();
      for (AlertKind kind : KINDS) {
        for (String name : NAMES) {
          String key = kind.label() + " " + name;
          Integer before = model.get(key);
          int print = random.nextInt(4);
          boolean stays = before != null && random.nextInt(3) > 0;
          if (print == 0 && !stays) {
            if (model.remove(key) != null) {
              expected.add("over " + key + " It is " + before);
            }
            continue;
          }
          int now1 = stays ? before : Math.max(1, print);
          conditions.add(condition(kind, name, now1));
          if (before == null || before != now1) {
            expected.add((before == null ? "open " : "changed ") + key + " It is " + now1);
          }
          model.put(key, now1);
        }
      }
      assertEquals(2 * expected.size(), enter(conditions, now, "duty", "mail"), "round " + round);
      assertEquals(0, enter(conditions, now, "duty", "mail"), "found twice, entered once");
      for (String target : List.of("duty", "mail")) {
        assertEquals(
            expected.stream().sorted().toList(),
            sent(target, now).stream().sorted().toList(),
            "round " + round + " to " + target);
      }
      assertEquals(List.of(), sent("nobody", now));
      assertEquals(
          model.keySet().stream().sorted().toList(),
          warehouse.alerts().open().stream()
              .map(a -> a.kind().label() + " " + a.about())
              .sorted()
              .toList());
    }
  }

  @Test
  void whatWasNotLookedAtStays() {
    enter(List.of(condition(AlertKind.BOOKS, "farms", 1)), START, "duty");
    warehouse
        .alerts()
        .enter(EnumSet.of(AlertKind.REJECTS), NAMES, List.of(), to(START, "duty"), START);
    warehouse
        .alerts()
        .enter(EnumSet.allOf(AlertKind.class), List.of("collections"), List.of(), to(START), START);
    assertEquals(1, warehouse.alerts().open().size());
  }

  @Test
  void anAlertIsAcknowledgedUntilItChanges() {
    enter(List.of(condition(AlertKind.BOOKS, "farms", 1)), START, "duty");
    Alert alert = warehouse.alerts().open().get(0);
    assertTrue(warehouse.alerts().acknowledge(alert.id(), "ada", START));
    assertEquals(Optional.of("ada at " + START), warehouse.alerts().open().get(0).acknowledged());
    enter(List.of(condition(AlertKind.BOOKS, "farms", 2)), START, "duty");
    assertEquals(Optional.empty(), warehouse.alerts().open().get(0).acknowledged());
    assertEquals(1, warehouse.alerts().open().get(0).changes());
    enter(List.of(), START, "duty");
    assertFalse(warehouse.alerts().acknowledge(alert.id(), "ada", START));
    assertFalse(warehouse.alerts().acknowledge(-1, "ada", START));
    assertEquals(
        List.of(
            "open books farms It is 1", "changed books farms It is 2", "over books farms It is 2"),
        sent("duty", START));
  }

  @Test
  void messagesAreDueLaterAndAfterAFailureAgain() {
    Instant later = START.plusSeconds(600);
    warehouse
        .alerts()
        .enter(
            EnumSet.allOf(AlertKind.class),
            NAMES,
            List.of(condition(AlertKind.BOOKS, "farms", 1)),
            to(later, "duty"),
            START);
    assertEquals(List.of(), sent("duty", START));
    try (AlertEntries.Due due = warehouse.alerts().due("duty", later, 9).orElseThrow()) {
      assertEquals(
          Optional.empty(),
          warehouse.alerts().due("duty", later, 9),
          "no other takes it meanwhile");
      assertEquals(START, due.messages().get(0).at());
    }
    try (AlertEntries.Due due = warehouse.alerts().due("duty", later, 9).orElseThrow()) {
      due.failed("nobody there", Optional.of(later.plusSeconds(60)));
    }
    assertEquals(Optional.empty(), warehouse.alerts().due("duty", later, 9));
    try (AlertEntries.Due due =
        warehouse.alerts().due("duty", later.plusSeconds(60), 9).orElseThrow()) {
      assertEquals(1, due.messages().get(0).attempts());
      due.failed("still nobody there", Optional.empty());
    }
    assertEquals(List.of(), sent("duty", later.plusSeconds(100_000)), "it is dropped");
  }

  @Test
  void theLastProofCounts() {
    assertEquals(Optional.empty(), warehouse.alerts().disagrees("farms"));
    warehouse.alerts().proved("farms", false, "they differ", START);
    assertEquals(Optional.of("they differ"), warehouse.alerts().disagrees("farms"));
    warehouse.alerts().proved("farms", true, "they agree", START);
    assertEquals(Optional.empty(), warehouse.alerts().disagrees("farms"));
  }
}
