package dev.dusky.core.type;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;

import dev.dusky.core.reject.RejectCode;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class NumberTextTest {

  private static final int BEFORE = 13;

  /** The text somewhere in the middle of other bytes, as it is in a batch. */
  private static byte[] placed(String text) {
    return ("9".repeat(BEFORE) + text + "99999999").getBytes(StandardCharsets.UTF_8);
  }

  private static long integer(IntegerText reader, String text) {
    byte[] b = placed(text);
    return reader.parse(b, BEFORE, b.length - 8);
  }

  private static BigDecimal decimal(DecimalText reader, int scale, String text) {
    byte[] b = placed(text);
    long value = reader.parse(b, BEFORE, b.length - 8);
    if (reader.failure() != null) {
      return null;
    }
    return reader.wide() != null
        ? new BigDecimal(reader.wide(), scale)
        : BigDecimal.valueOf(value, scale);
  }

  @Test
  void wholeNumbersOfAnyLengthAreRead() {
    IntegerText reader = new IntegerText(TypeKind.BIGINT);
    Random random = new Random(1);
    for (int i = 0; i < 20_000; i++) {
      long value = random.nextLong() >> random.nextInt(64);
      assertEquals(value, integer(reader, Long.toString(value)));
      assertNull(reader.failure());
    }
    assertEquals(Long.MIN_VALUE, integer(reader, "-9223372036854775808"));
    assertEquals(7, integer(reader, "+0000000000000000000000007"));
  }

  @Test
  void wholeNumbersAreReadAtTheVeryBeginningOfABuffer() {
    IntegerText reader = new IntegerText(TypeKind.INTEGER);
    assertEquals(42, reader.parse("42".getBytes(), 0, 2));
    assertEquals(-4_242_424, reader.parse("-4242424".getBytes(), 0, 8));
  }

  @ParameterizedTest
  @CsvSource({
    "SMALLINT, 32768",
    "SMALLINT, -32769",
    "INTEGER, 2147483648",
    "INTEGER, -99999999999",
    "BIGINT, 9223372036854775808",
    "BIGINT, -9223372036854775809",
    "BIGINT, 99999999999999999999999"
  })
  void wholeNumbersOutOfRangeAreTold(TypeKind kind, String text) {
    IntegerText reader = new IntegerText(kind);
    integer(reader, text);
    assertEquals(RejectCode.OUT_OF_RANGE, reader.failure());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"-", "+", "1.0", "1e3", "0x10", " 1", "1 ", "٣", "--1", "12a45678", "/", ":"})
  void whatIsNoWholeNumberIsTold(String text) {
    IntegerText reader = new IntegerText(TypeKind.BIGINT);
    integer(reader, text);
    assertEquals(RejectCode.BAD_NUMBER, reader.failure());
  }

  @Test
  void decimalsAreExact() {
    Random random = new Random(2);
    for (int i = 0; i < 30_000; i++) {
      int precision = 1 + random.nextInt(25);
      int scale = random.nextInt(precision + 1);
      BigDecimal value =
          new BigDecimal(new BigInteger(random.nextInt(70) + 1, random), random.nextInt(8));
      value = random.nextBoolean() ? value.negate() : value;
      DecimalText reader = new DecimalText(precision, scale);
      BigDecimal read = decimal(reader, scale, value.toPlainString());
      boolean exact = value.stripTrailingZeros().scale() <= scale;
      boolean fits =
          value
                  .setScale(scale, RoundingMode.DOWN)
                  .abs()
                  .unscaledValue()
                  .compareTo(BigInteger.TEN.pow(precision))
              < 0;
      if (exact && fits) {
        assertEquals(value.setScale(scale), read, value + " as decimal(" + precision + "," + scale);
      } else {
        assertNull(read, value + " as decimal(" + precision + "," + scale + ")");
        assertNotNull(reader.failure());
      }
    }
  }

  @ParameterizedTest
  @CsvSource({
    "1e2, 100.00",
    "1.5E1, 15.00",
    ".5, 0.50",
    "5., 5.00",
    "-0.00, 0.00",
    "+1.20, 1.20",
    "000000000000000001.2, 1.20",
    "1.2000000000000000000000, 1.20",
    "0e999999999, 0.00"
  })
  void decimalsMayBeWrittenInManyWays(String text, BigDecimal value) {
    assertEquals(value, decimal(new DecimalText(9, 2), 2, text));
  }

  @ParameterizedTest
  @CsvSource({
    "1.234, TOO_MANY_DECIMALS",
    "12345678, OUT_OF_RANGE",
    "99999999.99, OUT_OF_RANGE",
    "1e9999999, OUT_OF_RANGE",
    "1e-9999999, TOO_MANY_DECIMALS",
    "abc, BAD_NUMBER",
    "1.2.3, BAD_NUMBER",
    "., BAD_NUMBER",
    "8l2.5, BAD_NUMBER",
    "1 000, BAD_NUMBER",
    "NaN, BAD_NUMBER"
  })
  void whatIsNoFittingDecimalIsTold(String text, RejectCode code) {
    DecimalText reader = new DecimalText(9, 2);
    assertNull(decimal(reader, 2, text));
    assertEquals(code, reader.failure());
  }

  @Test
  void floatingPointNumbersAreCorrectlyRounded() {
    FloatText reader = new FloatText(false);
    Random random = new Random(3);
    for (int i = 0; i < 20_000; i++) {
      double value =
          random.nextBoolean()
              ? Double.longBitsToDouble(random.nextLong())
              : Math.round(random.nextDouble() * 1e6) / 1e3;
      if (Double.isNaN(value) || Double.isInfinite(value)) {
        continue;
      }
      byte[] b = placed(Double.toString(value));
      assertEquals(value, reader.parse(b, BEFORE, b.length - 8));
    }
    FloatText single = new FloatText(true);
    byte[] b = placed("16777217.0000001");
    assertEquals(Float.parseFloat("16777217.0000001"), single.parse(b, BEFORE, b.length - 8));
  }

  @ParameterizedTest
  @CsvSource({
    "1e999, OUT_OF_RANGE",
    "1e-999, OUT_OF_RANGE",
    "0x1p3, BAD_NUMBER",
    "1d, BAD_NUMBER",
    "infinity, BAD_NUMBER",
    "1_0, BAD_NUMBER",
    "e5, BAD_NUMBER"
  })
  void whatIsNoFloatingPointNumberIsTold(String text, RejectCode code) {
    FloatText reader = new FloatText(false);
    byte[] b = placed(text);
    reader.parse(b, BEFORE, b.length - 8);
    assertEquals(code, reader.failure());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "1.234.567,89; 1234567.89",
        "234,5; 234.5",
        "-1.000; -1000",
        "12; 12",
        "1.234; 1234"
      })
  void marksAreTurnedIntoPlainForm(String text, String plain) {
    MarkedNumber marked = new MarkedNumber(new NumberMarks(',', "."));
    byte[] b = text.getBytes();
    int length = marked.convert(b, 0, b.length);
    assertEquals(plain, new String(marked.plain(), 0, length, StandardCharsets.US_ASCII));
  }

  @ParameterizedTest
  @ValueSource(strings = {"1.23", "1234.567", ".123", "1.2345", "1,234.5", "1..234", "12.34,5"})
  void groupsOfOtherThanThreeDigitsAreRefused(String text) {
    MarkedNumber marked = new MarkedNumber(new NumberMarks(',', "."));
    assertEquals(-1, marked.convert(text.getBytes(), 0, text.length()));
  }

  @Test
  void aGroupMarkMayBeANarrowNoBreakSpace() {
    MarkedNumber marked = new MarkedNumber(new NumberMarks(',', "\u202f"));
    byte[] b = "12\u202f345,6".getBytes(StandardCharsets.UTF_8);
    assertEquals("12345.6", new String(marked.plain(), 0, marked.convert(b, 0, b.length)));
  }
}
