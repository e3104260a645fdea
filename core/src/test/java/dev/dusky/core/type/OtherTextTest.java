package dev.dusky.core.type;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.json.JsonTree;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Random;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class OtherTextTest {

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  @Test
  void utf8IsCheckedAsTheJdkDoesAndCountedInCharacters() {
    Random random = new Random(5);
    for (int i = 0; i < 50_000; i++) {
      byte[] b = new byte[random.nextInt(24)];
      random.nextBytes(b);
      if (random.nextBoolean()) {
        b = bytes(new String(b, StandardCharsets.UTF_16LE));
      }
      for (int j = 0; j < b.length; j++) {
        if (b[j] == 0 || random.nextInt(3) == 0) {
          b[j] = 'x';
        }
      }
      assertEquals(expected(b), Math.max(Utf8.length(b, 0, b.length), -1));
    }
  }

  private static int expected(byte[] b) {
    try {
      String text =
          StandardCharsets.UTF_8
              .newDecoder()
              .onMalformedInput(CodingErrorAction.REPORT)
              .decode(ByteBuffer.wrap(b))
              .toString();
      return text.codePointCount(0, text.length());
    } catch (CharacterCodingException e) {
      return -1;
    }
  }

  @Test
  void theFirstBadByteIsTold() {
    byte[] b = {'a', 'b', (byte) 0xff, 'c'};
    assertEquals(-1 - 2, Utf8.length(b, 0, 4));
    byte[] nul = bytes("abcdefghijk\0mnop");
    assertEquals(-1 - 11, Utf8.length(nul, 0, nul.length));
    assertEquals(-1 - 0, Utf8.length(bytes("\0"), 0, 1));
  }

  @ParameterizedTest
  @CsvSource({"true,1", "F,0", "Yes,1", "no,0", "1,1", "0,0", "ON,1", "off,0", "t,1"})
  void commonTruthValues(String text, long value) {
    BooleanText reader = BooleanText.common();
    assertEquals(value, reader.parse(bytes(text), 0, text.length()));
    assertFalse(reader.failed());
  }

  @Test
  void ownTruthValues() {
    BooleanText reader = BooleanText.of("J|ja/N|nein");
    assertEquals(1, reader.parse(bytes("ja"), 0, 2));
    assertEquals(0, reader.parse(bytes("N"), 0, 1));
    assertFalse(reader.failed());
    reader.parse(bytes("j"), 0, 1);
    assertTrue(reader.failed());
    assertThrows(IllegalArgumentException.class, () -> BooleanText.of("J,N"));
  }

  @Test
  void uuids() {
    UuidText reader = new UuidText();
    UUID uuid = UUID.fromString("0f8fad5b-d9cb-469f-a165-70867728950e");
    for (String text : new String[] {uuid.toString(), uuid.toString().replace("-", "")}) {
      assertTrue(reader.parse(bytes(text.toUpperCase()), 0, text.length()));
      assertEquals(uuid, new UUID(reader.high(), reader.low()));
    }
    assertFalse(reader.parse(bytes("0f8fad5b-d9cb-469f-a165-70867728950"), 0, 35));
    assertFalse(reader.parse(bytes("0f8fad5bxd9cb-469f-a165-70867728950e"), 0, 36));
  }

  @Test
  void binaryData() {
    byte[] value = {0, (byte) 0xab, 16};
    assertArrayEquals(value, BinaryText.hex().parse(bytes("00aB10"), 0, 6));
    assertArrayEquals(value, BinaryText.hex().parse(bytes("\\x00ab10"), 0, 8));
    assertArrayEquals(value, BinaryText.base64().parse(bytes("AKsQ"), 0, 4));
    assertNull(BinaryText.hex().parse(bytes("abc"), 0, 3));
    assertNull(BinaryText.hex().parse(bytes("zz"), 0, 2));
    assertNull(BinaryText.base64().parse(bytes("A*=="), 0, 4));
  }

  @ParameterizedTest
  @ValueSource(strings = {"{}", "[1,2]", "\"a\"", "12.50", "null", " {\"a\": [true]} "})
  void json(String text) {
    byte[] b = bytes(text);
    assertTrue(new JsonTree().read(b, 0, b.length));
  }

  @ParameterizedTest
  @ValueSource(strings = {"{", "{}{}", "[1,]", "abc", " ", "{'a':1}", "[1] x"})
  void notJson(String text) {
    byte[] b = bytes(text);
    assertFalse(new JsonTree().read(b, 0, b.length));
  }

  @Test
  void jsonNestedTooDeep() {
    byte[] b = bytes("[".repeat(300) + "]".repeat(300));
    assertFalse(new JsonTree().read(b, 0, b.length));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "bigint; bigint",
        "INT; integer",
        "numeric(9, 1); decimal(9,1)",
        "decimal(5); decimal(5,0)",
        "character varying(8); varchar(8)",
        "char; char(1)",
        "varchar; varchar",
        "timestamp  with time zone; timestamp with time zone",
        "bytea; varbinary",
        "double precision; double precision",
        "timestamp without time zone; timestamp"
      })
  void typesAreReadAsSqlWritesThem(String text, String shown) {
    assertEquals(shown, SqlType.parse(text).orElseThrow().toString());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "decimal",
        "decimal(3,4)",
        "varchar(0)",
        "char(0)",
        "bigint(5)",
        "money",
        "varchar(5,2)",
        "decimal(2000,1)",
        ""
      })
  void whatIsNoTypeIsNotTaken(String text) {
    assertTrue(SqlType.parse(text).isEmpty());
  }
}
