package dev.dusky.cli.render;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RawViewTest {

  private final ByteArrayOutputStream out = new ByteArrayOutputStream();
  private final ByteArrayOutputStream err = new ByteArrayOutputStream();

  private List<String> shown(byte[] bytes, int lines, boolean json) throws IOException {
    Screen screen =
        new Screen(
            new PrintStream(out, true, StandardCharsets.UTF_8),
            new PrintStream(err, true, StandardCharsets.UTF_8),
            json,
            new Style(false),
            Terminal.detect());
    new RawView(screen).show(new ByteArrayInputStream(bytes), lines);
    return out.toString(StandardCharsets.UTF_8).lines().toList();
  }

  @ParameterizedTest
  @CsvSource({
    "61 09 62 0D 0A, a␉b␍␊",
    "EF BB BF 61, <BOM>a",
    "C2 A0 E2 80 8B, <NBSP><U+200B>",
    "E2 80 AF, <U+202F>",
    "00 7F, ␀␡",
    "E9 61 C3 A9, <E9>aé",
    "C3, <C3>",
    "C0 80, <C0><80>",
    "F0 9F 9A 9A, 🚚",
    "F5 80 80 80, <F5><80><80><80>",
    "ED 9F BF, \uD7FF",
  })
  void everyByteIsVisible(String hex, String text) {
    byte[] bytes = HexFormat.ofDelimiter(" ").parseHex(hex);
    assertEquals(text, RawView.visible(bytes));
  }

  @Test
  void linesEndAtAnyOfTheThreeLineEnds() throws IOException {
    byte[] text = "a\nb\r\nc\rd".getBytes(StandardCharsets.UTF_8);
    assertEquals(
        List.of("     1 a␊", "     2 b␍␊", "     3 c␍", "     4 d"), shown(text, 9, false));
  }

  @Test
  void noMoreLinesAreReadThanAskedFor() throws IOException {
    assertEquals(List.of("     1 a␊", "     2 b␊"), shown("a\nb\nc\n".getBytes(), 2, false));
  }

  @Test
  void aLineWithoutEndIsCutAndSaidSo() throws IOException {
    byte[] endless = new byte[1 << 20];
    Arrays.fill(endless, (byte) 'x');
    List<String> lines = shown(endless, 5, false);
    assertEquals(1, lines.size());
    assertTrue(lines.get(0).endsWith("x…"), lines.get(0));
    assertEquals(
        "Line 1 is longer than 65536 bytes; the view ends here.",
        err.toString(StandardCharsets.UTF_8).strip());
  }

  @Test
  void bytesThatAreNoTextAreHexadecimal() throws IOException {
    byte[] parquet = "PAR1....0123456789".getBytes();
    assertEquals(
        List.of(
            "00000000  50 41 52 31 2e 2e 2e 2e 30 31 32 33 34 35 36 37  PAR1....01234567",
            "00000010  38 39                                            89"),
        shown(parquet, 3, false));
  }

  @Test
  void machinesGetTheSame() throws IOException {
    assertEquals(
        List.of("{\"line\":1,\"bytes\":2,\"text\":\"a␊\"}"), shown("a\n".getBytes(), 1, true));
    out.reset();
    assertEquals(
        List.of("{\"offset\":0,\"hex\":\"50 41 52 31\"}"), shown("PAR1".getBytes(), 1, true));
  }
}
