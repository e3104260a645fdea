package dev.dusky.core.stream;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class JsonLinesTest {

  private static String lines(JsonLines lines, String text, Random random) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    StringBuilder out = new StringBuilder();
    for (int from = 0; from < bytes.length; ) {
      int to = Math.min(bytes.length, from + 1 + random.nextInt(7));
      lines.take(bytes, from, to);
      out.append(new String(lines.bytes(), 0, lines.length(), StandardCharsets.ISO_8859_1));
      from = to;
    }
    return new String(out.toString().getBytes(StandardCharsets.ISO_8859_1), StandardCharsets.UTF_8);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = 1,
      value = {
        "{\"a\":1}{\"b\":2} [3] ~ {\"a\":1}|{\"b\":2}|[3]| ~ 0",
        "{|\"a\": [1,|2]||} ~ { \"a\": [1, 2]  }| ~ 0",
        "{\"a\":\"}{\\\"[\"}{} ~ {\"a\":\"}{\\\"[\"}|{}| ~ 0",
        "{\"a\":\"open|{\"b\":1}| ~ {\"a\":\"open|{\"b\":1}| ~ 1",
        "hello|{\"b\":1}| ~ hello|{\"b\":1}| ~ 1",
        "1 2 3|  |{\"é\":1} ~ 1 2 3|{\"é\":1}| ~ 1",
        "{\"a\":1 ~ {\"a\":1 ~ 0"
      })
  void eachValueIsALine(String in, String out, long malformed) {
    for (int seed = 0; seed < 20; seed++) {
      JsonLines lines = new JsonLines();
      assertEquals(out.replace('|', '\n'), lines(lines, in.replace('|', '\n'), new Random(seed)));
      assertEquals(malformed, lines.malformed());
    }
  }

  @Test
  void linesOfJsonStayAsTheyAre() {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < 2_000; i++) {
      text.append("{\"n\":%d,\"t\":\"a\\\\ \\\" { %d\",\"x\":[[],{}]}\n".formatted(i, i));
    }
    assertEquals(text.toString(), lines(new JsonLines(), text.toString(), new Random(1)));
  }
}
