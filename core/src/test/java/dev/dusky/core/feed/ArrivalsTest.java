package dev.dusky.core.feed;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class ArrivalsTest {

  private static final Instant NOON = Instant.parse("2026-03-10T12:00:00Z");

  @Test
  void theFirstDayIsFixedOrMovesInUtc() {
    LocalDate day = LocalDate.of(2026, 3, 1);
    assertEquals(day, new Since("day", Optional.of(day), 0).first(NOON));
    Since moving = new Since("day", Optional.empty(), 9);
    assertEquals(day, moving.first(NOON));
    assertEquals(day, moving.first(Instant.parse("2026-03-10T23:59:59Z")));
    assertEquals(day.plusDays(1), moving.first(Instant.parse("2026-03-11T00:00:00Z")));
  }

  @Test
  void aFileIsQuietOnceItHasBeenLeftAloneForLongEnough() {
    Readiness ready = new Readiness(Duration.ofSeconds(30), Optional.empty());
    assertFalse(ready.quietAt(NOON.minusSeconds(29), NOON));
    assertTrue(ready.quietAt(NOON.minusSeconds(30), NOON));
    assertFalse(ready.quietAt(NOON.plusSeconds(3600), NOON), "written by a clock that is ahead");
    assertTrue(Readiness.AT_ONCE.quietAt(NOON.plusSeconds(3600), NOON));
  }

  @Test
  void aMarkerStandsBesideItsFileOrInItsFolder() {
    Readiness beside = new Readiness(Duration.ZERO, Optional.of("{path}.done"));
    assertEquals(Optional.of("a/b.csv.done"), beside.markerOf("a/b.csv"));
    Readiness folder = new Readiness(Duration.ZERO, Optional.of("{folder}_complete"));
    assertEquals(Optional.of("a/_complete"), folder.markerOf("a/b.csv"));
    assertEquals(Optional.of("_complete"), folder.markerOf("b.csv"));
    assertEquals(Optional.empty(), Readiness.AT_ONCE.markerOf("b.csv"));
  }

  @Test
  void anArchiveKeepsTheWholePath() {
    assertEquals("kept/a/b.csv", new Afterwards.Archive("kept/").target("a/b.csv"));
  }

  @Test
  void aPatternTellsItsDatesAndWhereTheyStand() {
    FilePattern files = FilePattern.of("{region}/{day:date}/{part:integer}-*.csv");
    assertEquals(List.of("day"), files.dateNames());
    assertEquals(5, files.captureAt("east/2026-03-10/7-x.csv", "day"));
    assertEquals(0, files.captureAt("east/2026-03-10/7-x.csv", "region"));
    assertEquals(-1, files.captureAt("east/march/7-x.csv", "day"));
    assertEquals(List.of(), FilePattern.of("**/*.csv").dateNames());
  }

  @Test
  void policiesAreChangedOneByOne() {
    Arrivals changed =
        Arrivals.DEFAULT
            .withTwins(TwinPolicy.LOAD)
            .withRevised(RevisedPolicy.REPLACE)
            .withAfterwards(new Afterwards.Remove())
            .withReady(new Readiness(Duration.ofSeconds(1), Optional.empty()))
            .withSince(new Since("day", Optional.empty(), 3));
    assertEquals(TwinPolicy.LOAD, changed.twins());
    assertEquals(RevisedPolicy.REPLACE, changed.revised());
    assertEquals(new Afterwards.Remove(), changed.afterwards());
    assertEquals(Duration.ofSeconds(1), changed.ready().quiet());
    assertEquals(3, changed.since().orElseThrow().days());
    assertEquals(changed, FeedPolicies.DEFAULT.withArrivals(changed).withRejectCap(7).arrivals());
  }

  @Test
  void aDriftPolicyKnowsWhatItDoes() {
    assertTrue(DriftPolicy.of(DriftPolicy.Fields.CAPTURE).captures());
    assertFalse(DriftPolicy.of(DriftPolicy.Fields.CAPTURE).grows());
    assertTrue(DriftPolicy.of(DriftPolicy.Fields.EXTEND).grows());
    assertFalse(DriftPolicy.of(DriftPolicy.Fields.EXTEND).widen());
    assertEquals("refuse", DriftPolicy.Fields.REFUSE.label());
  }
}
