package dev.dusky.cli.render;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.tally.Tally;
import dev.dusky.testkit.FeedBuilder;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What a load of many files writes. */
class ManyFilesTest {

  private static final Feed FEED = new FeedBuilder("milk").build();

  private final ByteArrayOutputStream out = new ByteArrayOutputStream();
  private final ByteArrayOutputStream err = new ByteArrayOutputStream();

  private Screen screen(boolean terminal, int width) {
    return new Screen(
        new PrintStream(out, true, StandardCharsets.UTF_8),
        new PrintStream(err, true, StandardCharsets.UTF_8),
        false,
        new Style(false),
        new Terminal(terminal, terminal, width));
  }

  private static StagedFile file(int number) {
    return new StagedFile("milk/" + number + ".csv", 1000, "m", Instant.EPOCH);
  }

  private static FileResult result(int number, FileState state) {
    Tally tally = state == FileState.POSTED ? Tally.posted(9, 9, 0, 0) : Tally.refused(9, 1, 0);
    return new FileResult(
        file(number), state, tally, Duration.ZERO, "why " + number, 0, List.of(), 0, List.of());
  }

  private List<String> lines(int posted, int refused, boolean all, long seed) {
    out.reset();
    try (LoadReport report = LoadReport.load(screen(false, 100), all)) {
      LoadListener listener = report.of(FEED);
      Random random = new Random(seed);
      int left = posted;
      for (int i = 0; i < posted + refused; i++) {
        boolean next = random.nextInt(posted + refused - i) < left;
        left -= next ? 1 : 0;
        listener.started(file(i));
        listener.finished(result(i, next ? FileState.POSTED : FileState.REFUSED));
      }
    }
    return out.toString(StandardCharsets.UTF_8).lines().toList();
  }

  /** Each file is listed or counted, a refused one rather than a posted one, in few lines. */
  @Test
  void everyFileIsListedOrCountedInAFewLines() {
    for (int[] files :
        new int[][] {{0, 1}, {10, 0}, {12, 0}, {16, 0}, {17, 0}, {3_000, 1_000}, {9_999, 1}}) {
      for (long seed = 0; seed < (files[0] > 100 ? 2 : 20); seed++) {
        List<String> lines = lines(files[0], files[1], false, seed);
        String text = String.join("\n", lines);
        assertTrue(lines.size() <= 17, files[0] + " files, and a refused one's lines\n" + text);
        assertEquals(files[0], listed(text, "posted"), text);
        assertEquals(files[1], listed(text, "refused"), text);
        assertTrue(
            files[1] == 0 || text.contains("why "), "some refusal is given in full: " + text);
        assertEquals(files[0] + files[1] > 16, text.contains("dusky files milk"), text);
      }
    }
    assertEquals(900 + 3 * 100, lines(900, 100, true, 1).size());
  }

  private static int listed(String text, String state) {
    int lines = text.split("(?m)^  " + state + " ", -1).length - 1;
    java.util.regex.Matcher counted =
        java.util.regex.Pattern.compile("not listed: .*?([0-9 ]+) " + state).matcher(text);
    return lines + (counted.find() ? Integer.parseInt(counted.group(1).replace(" ", "")) : 0);
  }

  @Test
  void aBarForEachFileInHandIsTakenAwayAgain() throws Exception {
    try (LoadReport report = LoadReport.load(screen(true, 60), false)) {
      LoadListener listener = report.of(FEED);
      for (int i = 0; i < 12; i++) {
        listener.started(file(i));
      }
      long begun = System.nanoTime();
      while (err.size() == 0) { // drawn at intervals
        listener.progress(file(3), 40, 500);
        assertTrue(System.nanoTime() - begun < 60e9, "drawn at some time");
      }
      String drawn = err.toString(StandardCharsets.UTF_8);
      assertTrue(drawn.contains("\u2501\u2500"), drawn);
      assertTrue(drawn.contains(" 50%    1.0 kB  milk/3.csv"), drawn);
      assertEquals(9, drawn.lines().count(), "eight bars and the sum: " + drawn);
      assertTrue(drawn.contains("milk  0 files posted, 12 in progress  500 B"), drawn);
      assertTrue(drawn.lines().allMatch(line -> line.length() < 60), drawn);
      listener.finished(result(3, FileState.REFUSED));
      assertTrue(err.toString(StandardCharsets.UTF_8).endsWith("\u001b[8A\r\u001b[J"), "cleared");
    }
    assertFalse(out.toString(StandardCharsets.UTF_8).contains("\u001b["));
  }
}
