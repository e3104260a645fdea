package dev.dusky.core.repeat;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.security.DigestException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.List;

/**
 * The hash of a row: the first 128 bits of the SHA-256 of its values. Rows with the same values
 * have the same hash; that among n rows two different ones share a hash has a chance below n²/2^129
 * — less than 10^-18 for ten billion rows — and no way is known to construct such rows, since that
 * would break SHA-256. So the hash alone decides. One for each thread. Hot.
 */
public final class RowHash {

  private final int[] columns;
  private final SqlType[] types;
  private final boolean keyed;
  private final MessageDigest digest;
  private final byte[] result = new byte[32];
  private byte[] buffer = new byte[256];
  private int used;

  /**
   * A hash of some columns.
   *
   * @param columns their positions in the row
   * @param types their types
   * @param keyed whether a row with a null among them is not a repeat of any other
   */
  public RowHash(List<Integer> columns, List<SqlType> types, boolean keyed) {
    this.columns = columns.stream().mapToInt(Integer::intValue).toArray();
    this.types = types.toArray(SqlType[]::new);
    this.keyed = keyed;
    try {
      digest = MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /**
   * Works out the hash of a row.
   *
   * @return false if it has none, because its key is not whole
   */
  public boolean hash(List<ColumnVector> vectors, int row) {
    used = 0;
    for (int i = 0; i < columns.length; i++) {
      ColumnVector vector = vectors.get(columns[i]);
      if (vector.isNull(row)) {
        if (keyed) {
          return false;
        }
        room(1);
        buffer[used++] = 0;
      } else {
        add(types[i], vector, row);
      }
    }
    try {
      digest.update(buffer, 0, used);
      digest.digest(result, 0, 32);
    } catch (DigestException e) {
      throw new IllegalStateException("32 bytes are enough for SHA-256", e);
    }
    return true;
  }

  /** The first half of the last hash; never 0, which means no hash. */
  public long high() {
    long value = word(0);
    return value == 0 ? 1 : value;
  }

  /** The second half. */
  public long low() {
    return word(8);
  }

  private long word(int at) {
    long value = 0;
    for (int i = 0; i < 8; i++) {
      value = value << 8 | result[at + i] & 0xff;
    }
    return value;
  }

  private void add(SqlType type, ColumnVector vector, int row) {
    if (vector instanceof LongVector longs) {
      put(1, longs.get(row));
    } else if (vector instanceof BytesVector bytes) {
      int length = bytes.length(row);
      int start = bytes.start(row);
      if (type.kind() == TypeKind.CHAR) {
        while (length > 0 && bytes.heap()[start + length - 1] == ' ') {
          length--; // blanks at its end are not part of a char value
        }
      }
      put(2, length);
      room(length);
      System.arraycopy(bytes.heap(), start, buffer, used, length);
      used += length;
    } else if (vector instanceof DecimalVector decimals) {
      if (!decimals.isWide(row)) {
        put(3, decimals.unscaled(row));
      } else {
        byte[] wide = decimals.get(row).unscaledValue().toByteArray();
        boolean fits = decimals.get(row).unscaledValue().bitLength() < 64;
        if (fits) {
          put(3, decimals.get(row).unscaledValue().longValue());
        } else {
          put(4, wide.length);
          room(wide.length);
          System.arraycopy(wide, 0, buffer, used, wide.length);
          used += wide.length;
        }
      }
    } else if (vector instanceof DoubleVector doubles) {
      double value = doubles.get(row);
      put(5, Double.doubleToLongBits(value == 0 ? 0.0 : value)); // -0 equals 0
    } else {
      UuidVector uuids = (UuidVector) vector;
      put(6, uuids.high(row));
      put(6, uuids.low(row));
    }
  }

  private void put(int tag, long value) {
    room(9);
    buffer[used++] = (byte) tag;
    for (int shift = 56; shift >= 0; shift -= 8) {
      buffer[used++] = (byte) (value >>> shift);
    }
  }

  private void room(int more) {
    if (buffer.length - used < more) {
      buffer = Arrays.copyOf(buffer, Math.max(used + more, buffer.length * 2));
    }
  }
}
