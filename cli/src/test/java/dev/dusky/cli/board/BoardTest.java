package dev.dusky.cli.board;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.watch.PauseFeeds;
import dev.dusky.app.watch.WatchControl;
import dev.dusky.app.watch.WatchEvent;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.cli.render.FileInProgress;
import dev.dusky.cli.render.Style;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.ledger.PostedSummary;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.tally.Tally;
import dev.dusky.testkit.FeedBuilder;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.jline.terminal.Attributes;
import org.jline.terminal.Size;
import org.jline.terminal.impl.LineDisciplineTerminal;
import org.junit.jupiter.api.Test;

/** The board of a watcher: its numbers, its text in every size, and its keys on a terminal. */
class BoardTest {

  private static final Instant NOW = Instant.parse("2026-03-04T06:00:00Z");
  private static final String HOSTILE = "a\u001b[2J\u202egpj.\n\u0007b";

  private static FeedView feed(int number) {
    return new FeedView(
        "feed" + number,
        number % 3 == 0 ? "loading" : "current",
        number % 5 == 0 ? Optional.empty() : Optional.of((long) number),
        number % 3 == 0
            ? List.of(
                new FileInProgress(HOSTILE, 1000, 10L * number, 5),
                new FileInProgress("x", 0, 0, 0))
            : List.of(),
        1234.5 * number,
        number,
        number % 2,
        0,
        0,
        Optional.of(NOW.minusSeconds(number)),
        Optional.of(Duration.ofSeconds(7)),
        Optional.empty(),
        1,
        Optional.of("the depot " + HOSTILE + " does not answer ".repeat(20)),
        new FeedView.Since(number, 1, 10L * number),
        "yard:x");
  }

  private static BoardView view(int feeds, int events) {
    return new BoardView(
        NOW,
        Duration.ofMinutes(3),
        IntStream.range(0, feeds).mapToObj(BoardTest::feed).toList(),
        IntStream.range(0, events)
            .mapToObj(
                i ->
                    new WatchEvent(
                        NOW, Level.values()[i % 3], "file", "feed" + i, HOSTILE + i, Map.of()))
            .toList());
  }

  @Test
  void theBoardFillsEveryTerminalAndKeepsTheChosenFeedAndTheKeysInSight() {
    for (int feeds : List.of(1, 2, 7, 60)) {
      for (int height = 3; height <= 70; height++) {
        for (int width : List.of(10, 40, 80, 200)) {
          for (boolean details : List.of(false, true)) {
            int chosen = (height * 7 + width) % feeds;
            List<String> lines =
                new BoardText(new Style(true), view(feeds, height))
                    .lines(width, height, chosen, details);
            String at = "%d feeds, %d x %d, %s".formatted(feeds, width, height, details);
            assertEquals(height, lines.size(), at);
            assertTrue(lines.get(height - 1).contains("quit"), at);
            String plain = String.join("|", lines).replaceAll("\u001b\\[[0-9;]*m", "");
            assertTrue(
                height < 6 || plain.contains("\u25b8 feed" + chosen + " "), at + "\n" + plain);
            assertTrue(
                plain.chars().noneMatch(c -> c < 0x20 || c == 0x202e), "nothing moves the cursor");
          }
        }
      }
    }
  }

  @Test
  void aNarrowTerminalShowsTheImportantColumnsOnly() {
    String wide = new BoardText(new Style(false), view(3, 0)).lines(140, 20, 0, false).get(3);
    assertTrue(
        wide.matches(".*feed +now +waiting +in progress +rows/s +rejects +held .*next.*"), wide);
    String narrow = new BoardText(new Style(false), view(3, 0)).lines(30, 20, 0, false).get(3);
    assertTrue(narrow.matches(".*feed +now +waiting"), narrow);
  }

  @Test
  void detailsNameTheFilesInHandAndTheCommandForWhatNeedsAPerson() {
    List<String> lines = new FeedDetails(new Style(false), view(4, 9), 80).lines(feed(3));
    String text = String.join("\n", lines);
    assertTrue(text.contains("1 file refused  dusky files feed3 --state refused"), text);
    assertTrue(text.contains("3 rejects open  dusky rejects feed3"), text);
    assertTrue(text.contains("  3%  1.0 kB  5 rows  a\u241b[2J"), text);
    assertTrue(text.contains("failed 1\u00d7: the depot"), text);
    assertTrue(
        lines.stream().filter(l -> l.contains("does not answer")).allMatch(l -> l.length() <= 80));
  }

  private static Feed feed() {
    return new FeedBuilder("milk").build();
  }

  private static StagedFile file(String path) {
    return new StagedFile(path, 100, "m", NOW);
  }

  private static FileResult result(String path, FileState state, Tally tally) {
    return new FileResult(file(path), state, tally, Duration.ZERO, "", 0, List.of(), 0, List.of());
  }

  private static FeedStatus status(long waiting, Optional<String> unlisted) {
    return new FeedStatus(
        "milk",
        unlisted,
        Map.of(FileState.WAITING, waiting, FileState.REFUSED, 2L),
        0,
        Optional.empty(),
        new PostedSummary(Optional.of(NOW), 0, 0, 7),
        Optional.empty(),
        Optional.empty(),
        List.of());
  }

  @Test
  void whatALoadSettlesIsCountedUntilTheNextListing() {
    BoardState state = new BoardState(List.of(feed()));
    assertEquals("starting", only(state).word());
    assertEquals(Optional.empty(), only(state).waiting());
    state.status(List.of(status(5, Optional.empty())));
    assertEquals("waiting", only(state).word());
    LoadListener files = state.scanning("milk");
    assertEquals("scanning", only(state).word());
    files.started(file("a"));
    files.started(file("b"));
    files.progress(file("a"), 40, 60);
    assertEquals(
        List.of(new FileInProgress("a", 100, 60, 40), new FileInProgress("b", 100, 0, 0)),
        only(state).inProgress());
    assertEquals("loading", only(state).word());
    files.finished(result("a", FileState.POSTED, Tally.posted(50, 46, 4, 0)));
    files.finished(result("b", FileState.REFUSED, Tally.refused(50, 3, 0)));
    files.finished(result("c", FileState.WAITING, Tally.NONE));
    FeedView view = only(state);
    assertEquals(new FeedView.Since(1, 1, 46), view.since());
    assertEquals(Optional.of(3L), view.waiting());
    assertEquals(11, view.rejects());
    assertEquals(3, view.held());
    assertTrue(view.perSecond() > 0);
    state.status(List.of(status(3, Optional.empty())));
    assertEquals(7, only(state).rejects(), "the listing has them");
    state.status(List.of(status(0, Optional.of("no answer"))));
    assertEquals(Optional.empty(), only(state).waiting(), "unknown");
  }

  private static FeedView only(BoardState state) {
    return state.view(NOW).feeds().get(0);
  }

  @Test
  void ofARepeatedFailureTheLastIsKeptForTheEnd() {
    BoardState state = new BoardState(List.of(feed()));
    for (int i = 0; i < 5; i++) {
      state.event(Level.ERROR, "failure", "milk", "no answer " + i);
      state.event(Level.ERROR, "failure", "merges", "no table " + i);
    }
    state.event(Level.INFO, "file", "milk", "posted");
    assertEquals(
        List.of("no answer 4", "no table 4"),
        state.notable().stream().map(WatchEvent::text).toList());
    assertEquals(11, state.view(NOW).events().size());
  }

  /** A watcher that notes what is asked of it. */
  private static final class Asked implements WatchControl {

    private final BlockingQueue<String> calls = new LinkedBlockingQueue<>();

    @Override
    public Optional<Duration> next(String feed) {
      return Optional.empty();
    }

    @Override
    public int failures(String feed) {
      return 0;
    }

    @Override
    public void scan(String feed) {
      calls.add("scan " + feed);
    }

    @Override
    public PauseFeeds.Outcome pause(String feed) {
      calls.add("pause " + feed);
      return new PauseFeeds.Outcome(
          feed, true, Optional.of(new Pause(NOW, "Ines", "scales", "on the board")));
    }

    @Override
    public PauseFeeds.Outcome resume(String feed) {
      calls.add("resume " + feed);
      return new PauseFeeds.Outcome(feed, true, Optional.empty());
    }

    @Override
    public List<FeedStatus> status() {
      return List.of();
    }

    String next() throws InterruptedException {
      return calls.poll(20, TimeUnit.SECONDS);
    }
  }

  @Test
  void keysReachTheWatcherAndTheTerminalIsLeftAsItWas() throws Exception {
    ByteArrayOutputStream drawn = new ByteArrayOutputStream();
    ByteArrayOutputStream after = new ByteArrayOutputStream();
    PrintStream err = System.err;
    List<Feed> feeds = new ArrayList<>(List.of(feed(), new FeedBuilder("whey").build()));
    BlockingQueue<String> atEnd = new LinkedBlockingQueue<>();
    try (LineDisciplineTerminal terminal =
        new LineDisciplineTerminal("board", "xterm", drawn, StandardCharsets.UTF_8) {
          @Override
          public void setAttributes(Attributes attributes) {
            super.setAttributes(attributes);
            atEnd.clear();
            atEnd.add(attributes.toString());
          }
        }) {
      terminal.setSize(new Size(90, 20));
      String before = terminal.getAttributes().toString();
      Asked asked = new Asked();
      Board board =
          new Board(feeds, terminal, new Style(true), new PrintStream(after, true, "UTF-8"));
      board.listener().begun(asked);
      System.err.println("a library warns");
      type(terminal, "s");
      assertEquals("scan milk", asked.next());
      type(terminal, "x\u001b[Bp");
      assertEquals("pause whey", asked.next());
      type(terminal, "r");
      assertEquals("resume whey", asked.next());
      assertFalse(board.quitting());
      type(terminal, "\rkq");
      while (!board.quitting()) {
        Thread.onSpinWait();
      }
      board.close();
      assertEquals(before, atEnd.poll());
    }
    assertEquals(err, System.err);
    String screen = drawn.toString(StandardCharsets.UTF_8);
    assertTrue(screen.contains("\u001b[?1049h") && screen.contains("\u001b[?1049l"), screen);
    assertTrue(screen.contains("whey"), screen);
    String left = after.toString(StandardCharsets.UTF_8);
    assertTrue(left.startsWith("in "), left);
    assertTrue(left.contains("attention: a library warns"), left);
  }

  private static void type(LineDisciplineTerminal terminal, String keys) throws IOException {
    for (byte key : keys.getBytes(StandardCharsets.UTF_8)) {
      terminal.processInputByte(key);
    }
  }
}
