package dev.dusky.cli.render;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.ledger.PostedSummary;
import dev.dusky.core.ledger.WatchEntry;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** How feeds stand, as {@code watch --status} shows it. */
class StatusReportTest {

  private static final Instant NOW = Instant.parse("2026-03-04T06:00:00Z");
  private static final String GONE = "Depot yard at yard.example:9000 does not answer.";

  private static FeedStatus feed(String name, Optional<String> unlisted, Optional<String> failure) {
    return new FeedStatus(
        name,
        unlisted,
        Map.of(FileState.POSTED, 17L, FileState.WAITING, 2L),
        2_000,
        Optional.empty(),
        new PostedSummary(Optional.of(NOW.minusSeconds(90)), 0, 0, 3),
        failure.map(
            f ->
                new WatchEntry(NOW.minusSeconds(5), "scales", 4, Optional.of(f), Optional.of(NOW))),
        Optional.empty(),
        List.of());
  }

  private static String shown(List<FeedStatus> feeds) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    Screen screen =
        new Screen(
            new PrintStream(out, true),
            System.err,
            false,
            new Style(false),
            new Terminal(false, false, 120));
    new StatusReport(screen, NOW).show(feeds);
    return out.toString();
  }

  private static int times(String text, String part) {
    return text.split(java.util.regex.Pattern.quote(part), -1).length - 1;
  }

  @Test
  void aDepotThatDoesNotAnswerIsToldOnceForAllItsFeeds() {
    Optional<String> gone = Optional.of(GONE);
    String text =
        shown(
            List.of(
                feed("assays", gone, gone),
                feed("collections", gone, gone),
                feed("farms", gone, Optional.empty()),
                feed("prices", Optional.empty(), Optional.empty())));
    assertEquals(1, times(text, GONE), text);
    assertTrue(text.contains("assays, collections, farms cannot be listed: " + GONE), text);
    assertTrue(text.contains("collections failed 4\u00d7: the same"), text);
    assertEquals(3, times(text, "failing"), text);
    assertEquals(4, times(text, "  17 "), "what the ledger knows is shown\n" + text);
  }

  @Test
  void differentCausesAreToldApart() {
    String text =
        shown(
            List.of(
                feed("assays", Optional.of(GONE), Optional.of("The disk is full.")),
                feed("farms", Optional.of("No bucket of that name."), Optional.empty())));
    assertTrue(text.contains("assays cannot be listed: " + GONE), text);
    assertTrue(text.contains("farms cannot be listed: No bucket of that name."), text);
    assertTrue(text.contains("assays failed 4\u00d7: The disk is full."), text);
  }

  @Test
  void whatWaitsForAPersonIsTold() {
    FeedStatus held =
        new FeedStatus(
            "farms",
            Optional.empty(),
            Map.of(FileState.REFUSED, 2L, FileState.REVISED, 1L),
            0,
            Optional.empty(),
            new PostedSummary(Optional.empty(), 0, 0, 0),
            Optional.empty(),
            Optional.of(new Pause(NOW, "ada", "scales", "the sender repeats yesterday")),
            List.of());
    String text = shown(List.of(held));
    assertTrue(text.contains("farms is paused by ada on scales"), text);
    assertTrue(text.contains("the sender repeats yesterday"), text);
    assertTrue(
        text.contains("farms needs a decision on 3 files: dusky files farms --state refused"),
        text);
    assertTrue(text.contains("never"), text);
  }
}
