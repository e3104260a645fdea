package dev.dusky.cli.render;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.figures.Figures;
import dev.dusky.core.tally.Tally;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RenderTest {

  private static final Style PLAIN = new Style(false);

  @ParameterizedTest
  @CsvSource({"0,0", "999,999", "12480,12 480", "1000000,1 000 000", "-1234,-1 234"})
  void countsAreGrouped(long value, String text) {
    assertEquals(text, Figures.count(value));
  }

  @ParameterizedTest
  @CsvSource({"0,0 B", "999,999 B", "1000,1.0 kB", "15360,15 kB", "4210000,4.2 MB", "2e9,2.0 GB"})
  void bytesAreScaled(double value, String text) {
    assertEquals(text, Figures.bytes((long) value));
  }

  @Test
  void ratesDurationsAndSharesAreShort() {
    assertEquals("6.6 k rows/s", Figures.rate(12_480, Duration.ofMillis(1900)));
    assertEquals("12 rows/s", Figures.rate(12, Duration.ofSeconds(1)));
    assertEquals("1.9 s", Figures.duration(Duration.ofMillis(1900)));
    assertEquals("1 min 05 s", Figures.duration(Duration.ofSeconds(65)));
    assertEquals("2 h 05 min", Figures.duration(Duration.ofMinutes(125)));
    assertEquals("0.14%", Figures.share(17, 12_480));
    assertEquals("50.0%", Figures.share(1, 2));
    assertEquals("-", Figures.share(0, 0));
  }

  @Test
  void theTallyLineSaysItAll() {
    assertEquals(
        "read 12 480 = loaded 12 401 + duplicate 62 + rejected 17 + filtered 0   balanced   1.9 s"
            + "   6.6 k rows/s",
        TallyText.line(new Tally(12_480, 12_401, 62, 17, 0, 0), Duration.ofMillis(1900), PLAIN));
    assertTrue(
        TallyText.line(new Tally(10, 5, 0, 4, 0, 0), Duration.ofSeconds(1), PLAIN)
            .contains("NOT BALANCED"));
  }

  @Test
  void tablesAlignAndFitTheWidth() {
    TableText table = new TableText(PLAIN, ">no", "=state", "path");
    table.row("1", "posted", "collections/2026-03-02/06.csv.gz");
    table.row("12", "twin", "short");
    assertEquals(
        List.of(
            "no  state   path",
            " 1  posted  collections/2026-03-02/06.csv.gz",
            "12  twin    short"),
        table.lines(80));
    List<String> narrow = table.lines(30);
    assertEquals(" 1  posted  collections/2026-…", narrow.get(1));
    assertTrue(narrow.stream().allMatch(line -> line.length() <= 30), narrow::toString);
  }

  @Test
  void namesOfAnyKindCanHeadATable() {
    TableText table = new TableText(PLAIN, ">n", "<=sum", "<>").subheader("int", "text", "");
    table.row("1", "x", "y");
    assertEquals(List.of("  n  =sum  >", "int  text", "  1  x     y"), table.lines(40));
  }

  @Test
  void invisibleCharactersAreShownAndCannotHarmTheTerminal() {
    assertEquals("a␊b␉c␛[31m", TableText.visible("a\nb\tc\u001b[31m"));
    assertEquals("plain", TableText.visible("plain"));
  }

  @Test
  void coloursAreOnlyThereWhenOn() {
    assertEquals("posted", PLAIN.state("posted"));
    assertEquals("\u001b[32mposted\u001b[0m", new Style(true).state("posted"));
    assertEquals("\u001b[1;31mrefused\u001b[0m", new Style(true).state("refused"));
  }

  @Test
  void jsonModePrintsObjectsOnly() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    Screen screen =
        new Screen(
            new PrintStream(out, true), System.err, true, PLAIN, new Terminal(false, false, 80));
    screen.line("for people");
    screen.table(new TableText(PLAIN, "a").row("b"));
    screen.object(Map.of("path", "ä\"b"));
    assertEquals("{\"path\":\"ä\\\"b\"}", out.toString().strip());
  }

  @Test
  void progressIsSilentWithoutATerminal() {
    ByteArrayOutputStream err = new ByteArrayOutputStream();
    Screen screen =
        new Screen(
            System.out, new PrintStream(err, true), false, PLAIN, new Terminal(false, false, 80));
    ProgressLine line = new ProgressLine(screen);
    line.start("a.csv", 100);
    line.update(50, 10);
    line.clear();
    assertEquals("", err.toString());
  }
}
