package dev.dusky.core.bytes;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.junit.jupiter.api.Test;

class ByteWordsTest {

  private final Random random = new Random(6);

  @Test
  void hitsAreExactlyTheBytesThatMatch() {
    byte[] b = new byte[8];
    for (int round = 0; round < 100_000; round++) {
      random.nextBytes(b);
      int wanted = round % 2 == 0 ? b[random.nextInt(8)] : random.nextInt(256);
      long expected = 0;
      for (int i = 0; i < 8; i++) {
        expected |= b[i] == (byte) wanted ? 1L << i : 0;
      }
      long hits = ByteWords.hits(ByteWords.misses(ByteWords.at(b, 0), ByteWords.repeat(wanted)));
      assertEquals(expected, hits, () -> java.util.Arrays.toString(b) + " " + wanted);
    }
  }

  @Test
  void digitsAreToldFromAllElse() {
    byte[] b = "12345678".getBytes(StandardCharsets.US_ASCII);
    for (int position = 0; position < 8; position++) {
      for (int value = 0; value < 256; value++) {
        byte[] changed = b.clone();
        changed[position] = (byte) value;
        assertEquals(
            value >= '0' && value <= '9',
            ByteWords.areDigits(ByteWords.at(changed, 0)),
            "value " + value);
      }
    }
  }

  @Test
  void numbersOfUpToEightDigitsAreMadeAtOnce() {
    for (int round = 0; round < 100_000; round++) {
      int number = random.nextInt(100_000_000) >> random.nextInt(27);
      byte[] b = ("######## " + number).getBytes(StandardCharsets.US_ASCII);
      int length = Integer.toString(number).length();
      long word = ByteWords.tailOfDigits(b, b.length, length);
      assertEquals(number, ByteWords.number(word));
    }
  }

  @Test
  void aPointIsTakenOutWhereverItStands() {
    for (int behind = 0; behind < 7; behind++) {
      String digits = "1234567";
      String text = digits.substring(0, 7 - behind) + "." + digits.substring(7 - behind);
      byte[] b = text.getBytes(StandardCharsets.US_ASCII);
      assertEquals(
          1_234_567, ByteWords.number(ByteWords.without(ByteWords.at(b, 0), behind)), text);
    }
  }

  @Test
  void onlyAsciiWithoutNulIsAscii() {
    byte[] b = "abcdefgh".getBytes(StandardCharsets.US_ASCII);
    for (int position = 0; position < 8; position++) {
      for (int value = 0; value < 256; value++) {
        byte[] changed = b.clone();
        changed[position] = (byte) value;
        assertEquals(value > 0 && value < 128, ByteWords.isAscii(ByteWords.at(changed, 0)));
      }
    }
  }
}
