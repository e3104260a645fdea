package dev.dusky.core.repeat;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.List;

/**
 * The hash of a row: 128 bits of SipHash-2-4 of its values, with a secret that each process makes
 * for itself, or has of the one that it works for. Rows with the same values have the same hash;
 * that among n rows two different ones share a hash has a chance below n²/2^129 — less than 10^-18
 * for ten billion rows — and nobody can construct such rows without the secret. So the hash alone
 * decides. One for each thread. Hot.
 *
 * <p>The message is the row without ambiguity: two bits a column say whether it is null and whether
 * a number is a large one; then follow the values in words, texts with their lengths.
 */
public final class RowHash {

  private static volatile RowSecret secret = RowSecret.make();

  /** Two bits a column. */
  private static final int COLUMNS_A_WORD = 32;

  private static final long NULL = 1;
  private static final long LARGE = 2;

  private final int[] columns;
  private final SqlType[] types;
  private final boolean keyed;
  private final SipHash hash = new SipHash(secret);
  private long[] words = new long[64];
  private int used;

  /** The secret of this process. */
  public static RowSecret secret() {
    return secret;
  }

  /** Takes the secret of the process that this one works for, before rows are hashed for it. */
  public static void share(RowSecret of) {
    secret = of;
  }

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
  }

  /**
   * Works out the hash of a row.
   *
   * @return false if it has none, because its key is not whole
   */
  public boolean hash(List<ColumnVector> vectors, int row) {
    used = 0;
    int marks = 0;
    for (int i = 0; i < columns.length; i++) {
      if (i % COLUMNS_A_WORD == 0) {
        marks = used;
        put(0);
      }
      ColumnVector vector = vectors.get(columns[i]);
      long mark = 0;
      if (!vector.isNull(row)) {
        mark = add(types[i], vector, row);
      } else if (keyed) {
        return false;
      } else {
        mark = NULL;
      }
      words[marks] |= mark << 2 * (i % COLUMNS_A_WORD);
    }
    hash.hash(words, used);
    return true;
  }

  /** The first half of the last hash; never 0, which means no hash. */
  public long high() {
    return hash.first() == 0 ? 1 : hash.first();
  }

  /** The second half. */
  public long low() {
    return hash.second();
  }

  private long add(SqlType type, ColumnVector vector, int row) {
    if (vector instanceof LongVector longs) {
      put(longs.get(row));
    } else if (vector instanceof BytesVector bytes) {
      int length = bytes.length(row);
      int start = bytes.start(row);
      if (type.kind() == TypeKind.CHAR) {
        while (length > 0 && bytes.heap()[start + length - 1] == ' ') {
          length--; // blanks at its end are not part of a char value
        }
      }
      put(bytes.heap(), start, length);
    } else if (vector instanceof DecimalVector decimals) {
      if (!decimals.isWide(row)) {
        put(decimals.unscaled(row));
      } else {
        BigInteger number = decimals.get(row).unscaledValue();
        if (number.bitLength() >= 64) {
          byte[] all = number.toByteArray();
          put(all, 0, all.length);
          return LARGE;
        }
        put(number.longValue());
      }
    } else if (vector instanceof DoubleVector doubles) {
      double value = doubles.get(row);
      put(Double.doubleToLongBits(value == 0 ? 0.0 : value)); // -0 equals 0
    } else {
      UuidVector uuids = (UuidVector) vector;
      put(uuids.high(row));
      put(uuids.low(row));
    }
    return 0;
  }

  /** Up to seven bytes make one word with their number; more come behind theirs. */
  private void put(byte[] b, int start, int length) {
    int end = start + length;
    if (length <= 7) {
      put(beginning(b, start, length) | (long) length << 56);
      return;
    }
    put(length | 8L << 56);
    int i = start;
    for (; i + 8 <= end; i += 8) {
      put(ByteWords.at(b, i));
    }
    if (i < end) {
      put(beginning(b, i, end - i));
    }
  }

  /** The bytes of a word that is not full. */
  private static long beginning(byte[] b, int start, int length) {
    if (b.length - start >= 8) {
      return ByteWords.at(b, start) & (1L << 8 * length) - 1;
    }
    long word = 0;
    for (int i = length - 1; i >= 0; i--) {
      word = word << 8 | b[start + i] & 0xff;
    }
    return word;
  }

  private void put(long word) {
    if (used == words.length) {
      words = Arrays.copyOf(words, used * 2);
    }
    words[used++] = word;
  }
}
