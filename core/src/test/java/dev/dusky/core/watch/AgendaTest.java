package dev.dusky.core.watch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.watch.Agenda.Turn;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class AgendaTest {

  private static final Optional<Duration> MINUTE = Optional.of(Duration.ofMinutes(1));

  private final Agenda agenda =
      new Agenda(
          new Backoff(Duration.ofSeconds(1), Duration.ofSeconds(30)), new SplittableRandom(7));

  private static long seconds(double seconds) {
    // A clock that overflows on the way, as one that never jumps may.
    return Long.MAX_VALUE - 50_000_000_000L + (long) (seconds * 1e9);
  }

  private Turn take(double at) {
    return agenda.take(seconds(at)).orElseThrow();
  }

  private boolean nothing(double at) {
    return agenda.take(seconds(at)).isEmpty();
  }

  @Test
  void aTaskIsDueAtOnceAndThenAfterItsIntervalGiveOrTakeATenth() {
    agenda.add("a", MINUTE, seconds(0));
    assertFalse(agenda.idle(seconds(0)));
    Turn first = take(0);
    assertTrue(nothing(1000), "never twice at a time");
    agenda.done(first, Optional.empty(), seconds(0));
    assertTrue(nothing(53.9));
    assertTrue(agenda.idle(seconds(53.9)));
    assertEquals(new Turn("a", true), take(66.1));
  }

  @Test
  void theOneThatWaitedLongestComesFirst() {
    agenda.add("a", MINUTE, seconds(0));
    agenda.add("b", MINUTE, seconds(0));
    Turn a = take(0);
    assertEquals("a", a.task());
    agenda.done(a, Optional.empty(), seconds(1));
    assertEquals("b", take(200).task());
    assertEquals("a", take(200).task());
  }

  @Test
  void aWokenTaskRunsOnceAndKeepsItsRegularTurn() {
    agenda.add("a", MINUTE, seconds(0));
    agenda.done(take(0), Optional.empty(), seconds(0));
    agenda.wake("a");
    agenda.wake("a");
    Turn woken = take(1);
    assertEquals(new Turn("a", false), woken);
    agenda.wake("a");
    agenda.done(woken, Optional.empty(), seconds(2));
    Turn again = take(2);
    assertFalse(again.regular(), "woken while it ran");
    agenda.done(again, Optional.empty(), seconds(3));
    assertTrue(nothing(50));
    assertTrue(take(67).regular());
    agenda.wake("unknown");
  }

  @Test
  void whatFailsWaitsLongerEachTimeEvenIfItIsWoken() {
    agenda.add("a", MINUTE, seconds(0));
    agenda.add("b", Optional.empty(), seconds(0));
    double now = 0;
    for (double least : List.of(0.9, 1.8, 3.6, 7.2, 14.4, 27.0, 27.0)) {
      Turn turn = take(now);
      Duration wait = agenda.failed(turn, seconds(now));
      assertTrue(wait.toMillis() >= least * 1000, wait + " after " + least);
      assertTrue(wait.toMillis() <= least * 1223, wait + " after " + least);
      agenda.wake("a");
      assertTrue(nothing(now + least - 0.01));
      assertTrue(agenda.idle(seconds(now + 0.1)), "it waits, so nothing is due");
      now += least * 1.25;
    }
    assertEquals(7, agenda.failures("a"));
    agenda.done(take(now), Optional.empty(), seconds(now));
    assertEquals(0, agenda.failures("a"));
  }

  @Test
  void aHurriedTaskIsDueNowEvenIfItFailedAMomentAgo() {
    agenda.add("a", MINUTE, seconds(0));
    agenda.add("merges", Optional.empty(), seconds(0));
    assertEquals(Optional.empty(), agenda.until("merges", seconds(0)), "only when it is woken");
    assertEquals(Optional.of(Duration.ZERO), agenda.until("a", seconds(0)));
    Turn failing = take(0);
    assertEquals(Optional.empty(), agenda.until("a", seconds(0)), "it runs");
    Duration wait = agenda.failed(failing, seconds(0));
    assertEquals(Optional.of(wait), agenda.until("a", seconds(0)));
    assertTrue(nothing(0.1));
    agenda.hurry("a", seconds(0.1));
    assertEquals(Optional.of(Duration.ZERO), agenda.until("a", seconds(0.1)));
    Turn again = take(0.1);
    assertTrue(again.regular(), "its depot is listed");
    agenda.done(again, Optional.empty(), seconds(1));
    long left = agenda.until("a", seconds(1)).orElseThrow().toSeconds();
    assertTrue(left >= 53 && left <= 66, left + " s");
    agenda.hurry("unknown", seconds(1));
    assertEquals(Optional.empty(), agenda.until("unknown", seconds(1)));
  }

  @Test
  void aTaskCanAskToComeSooner() {
    agenda.add("a", MINUTE, seconds(0));
    agenda.done(take(0), Optional.of(Duration.ofSeconds(2)), seconds(0));
    assertTrue(nothing(1.9));
    assertTrue(take(2).regular());
  }

  @Test
  void theInboxKeepsEachPathOnceAndIsBounded() {
    Inbox inbox = new Inbox(2);
    for (int i = 0; i < 1000; i++) {
      assertTrue(inbox.add("a", "x"));
    }
    assertTrue(inbox.add("a", "b"));
    assertFalse(inbox.add("a", "c"), "no room: the listing finds it");
    assertTrue(inbox.add("a", "x"));
    assertTrue(inbox.add("other", "c"));
    assertEquals(List.of("b", "x"), inbox.take("a"));
    assertEquals(List.of(), inbox.take("a"));
  }

  @Test
  void inASingleRoundEachTaskHasOneTurnHoweverLongTheOthersTake() {
    Agenda round =
        new Agenda(
            new Backoff(Duration.ofSeconds(1), Duration.ofSeconds(30)),
            new SplittableRandom(7),
            true);
    for (String task : List.of("slow", "quick", "broken")) {
      round.add(task, MINUTE, seconds(0));
    }
    round.add("merges", Optional.empty(), seconds(0));
    Turn slow = round.take(seconds(0)).orElseThrow();
    Turn quick = round.take(seconds(0)).orElseThrow();
    Turn broken = round.take(seconds(0)).orElseThrow();
    round.failed(broken, seconds(1));
    round.done(quick, Optional.empty(), seconds(1));
    round.wake("merges");
    assertEquals("merges", round.take(seconds(600)).orElseThrow().task());
    round.done(new Turn("merges", false), Optional.empty(), seconds(601));
    assertTrue(round.take(seconds(5_000)).isEmpty());
    round.done(slow, Optional.empty(), seconds(5_000));
    assertTrue(round.idle(seconds(9_000)));
    assertTrue(round.take(seconds(9_000)).isEmpty());
  }
}
