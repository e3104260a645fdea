package dev.dusky.core.source;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.IsoForm;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Random;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;

/** Numbers and times byte by byte are those of the library's slower ways. */
class TextBufferTest {

  private static String of(Consumer<TextBuffer> work) throws IOException {
    TextBuffer buffer = new TextBuffer(1);
    work.accept(buffer);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    int length = buffer.length();
    buffer.moveTo(out);
    assertEquals(length, out.size());
    assertEquals(0, buffer.length());
    return out.toString(StandardCharsets.UTF_8);
  }

  private static void same(long unscaled, int scale) throws IOException {
    assertEquals(
        BigDecimal.valueOf(unscaled, scale).toPlainString(),
        of(buffer -> buffer.putDecimal(unscaled, scale)));
  }

  @Test
  void decimalsHaveAllTheirDigits() throws IOException {
    Random random = new Random(1);
    for (int scale = 0; scale <= 20; scale++) {
      for (long edge : new long[] {0, 1, -1, 9, 10, -10, 99, Long.MAX_VALUE, Long.MIN_VALUE}) {
        same(edge, scale);
      }
      for (int i = 0; i < 500; i++) {
        same(random.nextLong() >> random.nextInt(64), scale);
      }
    }
    assertEquals("-120", of(buffer -> buffer.putNumber(-120)));
  }

  @Test
  void timesAreThoseOfIso() throws IOException {
    Random random = new Random(2);
    long first = LocalDate.of(1, 1, 1).toEpochDay();
    long last = LocalDate.of(9999, 12, 31).toEpochDay();
    for (int i = 0; i < 3_000; i++) {
      long day = first + (long) (random.nextDouble() * (last - first + 1));
      long time = (long) (random.nextDouble() * 86_400_000_000L);
      long rounded = time - time % (long) Math.pow(10, random.nextInt(7));
      assertEquals(IsoForm.date(day), of(buffer -> buffer.putDate(day)));
      assertEquals(IsoForm.time(rounded), of(buffer -> buffer.putTime(rounded)));
      long both = day * 86_400_000_000L + rounded;
      assertEquals(IsoForm.timestamp(both), of(buffer -> buffer.putTimestamp(both)));
    }
  }

  @Test
  void textIsQuotedUnlessSomethingOfItHasToBeEscaped() throws IOException {
    Random random = new Random(3);
    for (int i = 0; i < 2_000; i++) {
      StringBuilder text = new StringBuilder();
      for (int n = random.nextInt(12); n > 0; n--) {
        text.appendCodePoint(random.nextInt(3) == 0 ? random.nextInt(0x250) : 'a' + n);
      }
      byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
      String quoted = JsonStrings.quoted(text.toString());
      boolean[] done = new boolean[1];
      String put = of(buffer -> done[0] = buffer.putQuoted(bytes, 0, bytes.length));
      boolean plain = text.chars().noneMatch(c -> c < ' ' || c == '"' || c == '\\');
      assertEquals(plain, done[0], quoted);
      assertEquals(plain ? "\"" + text + "\"" : "", put);
    }
  }

  @Test
  void aDocumentStandsOnOneLine() throws IOException {
    byte[] document = "{\n \"a\":\r\n 1}".getBytes(StandardCharsets.UTF_8);
    String line = of(buffer -> buffer.putOnOneLine(document, 0, document.length));
    assertEquals("{  \"a\":   1}", line);
    assertFalse(line.contains("\n"));
    assertTrue(of(buffer -> buffer.put("\u00e9")).equals("\u00e9"));
  }
}
