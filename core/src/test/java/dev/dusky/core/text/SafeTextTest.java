package dev.dusky.core.text;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

class SafeTextTest {

  @Test
  void ordinaryTextStaysAsItIs() {
    for (String text : List.of("", "farm_code", "Prés 12 €", "\uD83D\uDC04 milk", "日本")) {
      assertSame(text, SafeText.line(text));
      assertSame(text, SafeText.json(text));
    }
  }

  @Test
  void whatMovesForgesOrTurnsShowsInstead() {
    assertEquals("a\u241b[2Jb", SafeText.line("a\u001b[2Jb"));
    assertEquals("a\u240aposted b", SafeText.line("a\nposted b"));
    assertEquals("a\nb\u240d", SafeText.block("a\nb\r"));
    assertEquals("x\\u{9b}31m", SafeText.line("x\u009b31m"));
    assertEquals("\\u{202e}gpj", SafeText.line("\u202egpj"));
    assertEquals("\\u{d800}", SafeText.line("\ud800"));
    assertEquals("\u2421\\u{2028}", SafeText.line("\u007f\u2028"));
    assertEquals("\"\\u009b\\u202e\"", SafeText.json("\"\u009b\u202e\""));
  }

  @Test
  void onlyOurOwnColoursStay() {
    assertEquals(
        "\u001b[32mposted\u001b[0m  \u241b[5mx\u001b[1;31my\u001b[0m",
        SafeText.styled("\u001b[32mposted\u001b[0m  \u001b[5mx\u001b[1;31my\u001b[0m", false));
  }

  @Test
  void nothingHiddenIsLeftOfAnyText() throws IOException {
    Random random = new Random(3);
    for (int round = 0; round < 2_000; round++) {
      StringBuilder text = new StringBuilder();
      for (int i = random.nextInt(12); i >= 0; i--) {
        text.append((char) random.nextInt(random.nextBoolean() ? 0x100 : 0x10000));
      }
      String safe = SafeText.line(text.toString());
      assertEquals(safe, SafeText.line(safe), "safe text is safe");
      assertFalse(safe.chars().anyMatch(c -> c < 0x20 || c >= 0x7f && c < 0xa0 || c == 0x202e));
      String json =
          SafeText.json("\"" + text.toString().replaceAll("[\\p{Cntrl}\"\\\\]", "") + "\"");
      try (JsonParser parser = new JsonFactory().createParser(json)) {
        parser.nextToken();
        assertEquals(text.toString().replaceAll("[\\p{Cntrl}\"\\\\]", ""), parser.getText());
      }
    }
  }
}
