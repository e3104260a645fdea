package dev.dusky.warehouses.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The fields mean the numbers, by the rules of PostgreSQL's binary numeric. */
class CopyNumericTest {

  private final CopyNumeric numeric = new CopyNumeric();

  @Test
  void everyNumberMeansItself() {
    Random random = new Random(11);
    for (int i = 0; i < 200_000; i++) {
      long most = (long) Math.pow(10, random.nextInt(19));
      long unscaled = random.nextLong(most) * (random.nextBoolean() ? 1 : -1);
      check(unscaled, random.nextInt(19));
    }
  }

  @Test
  void soDoTheEdges() {
    for (int scale = 0; scale <= 18; scale++) {
      long power = 1;
      for (int digits = 0; digits <= 18; digits++) {
        for (long near : new long[] {power - 1, power, power + 1}) {
          if (near < 1_000_000_000_000_000_000L) {
            check(near, scale);
            check(-near, scale);
          }
        }
        power *= 10;
      }
    }
  }

  private void check(long unscaled, int scale) {
    CopyBuffer narrow = new CopyBuffer(8);
    numeric.put(narrow, unscaled, scale);
    CopyBuffer wide = new CopyBuffer(64);
    numeric.put(wide, BigDecimal.valueOf(unscaled, scale));
    BigDecimal expected = BigDecimal.valueOf(unscaled, scale);
    assertEquals(expected, read(narrow));
    assertEquals(expected, read(wide));
  }

  private static BigDecimal read(CopyBuffer buffer) {
    ByteBuffer in = ByteBuffer.wrap(buffer.bytes(), 0, buffer.length());
    assertEquals(buffer.length() - 4, in.getInt());
    int count = in.getShort();
    int weight = in.getShort();
    int sign = in.getShort();
    int scale = in.getShort();
    BigInteger digits = BigInteger.ZERO;
    for (int i = 0; i < count; i++) {
      int group = in.getShort();
      assertEquals(group, Math.floorMod(group, 10_000));
      digits = digits.multiply(BigInteger.valueOf(10_000)).add(BigInteger.valueOf(group));
    }
    assertEquals(0, in.remaining());
    BigDecimal value = new BigDecimal(digits, (count - 1 - weight) * 4).setScale(scale);
    return sign == 0 ? value : value.negate();
  }
}
