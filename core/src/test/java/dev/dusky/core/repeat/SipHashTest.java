package dev.dusky.core.repeat;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.bytes.ByteWords;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Against the test vectors of the reference implementation (vectors.h, 128 bits of result). */
class SipHashTest {

  @ParameterizedTest
  @CsvSource({
    "0, a3817f04ba25a8e6 6df67214c7550293",
    "8, 3b62a9ba6258f561 0f83e264f31497b4",
    "16, 6ee2a4ca67b054bb fd3315bf85230577",
  })
  void givesTheResultsOfTheReference(int length, String expected) {
    byte[] message = new byte[16];
    for (int i = 0; i < 16; i++) {
      message[i] = (byte) i;
    }
    SipHash hash = new SipHash(new RowSecret(ByteWords.at(message, 0), ByteWords.at(message, 8)));
    long[] words = {ByteWords.at(message, 0), ByteWords.at(message, 8)};
    hash.hash(words, length / 8);
    assertEquals(
        expected,
        "%016x %016x".formatted(Long.reverseBytes(hash.first()), Long.reverseBytes(hash.second())));
  }
}
