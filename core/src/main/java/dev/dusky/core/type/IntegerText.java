package dev.dusky.core.type;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.reject.RejectCode;

/** Reads whole numbers. Hot. */
public final class IntegerText {

  private final long least;
  private final long most;
  private RejectCode failure;

  /** A reader for one of the three whole-number kinds. */
  public IntegerText(TypeKind kind) {
    switch (kind) {
      case SMALLINT -> {
        least = Short.MIN_VALUE;
        most = Short.MAX_VALUE;
      }
      case INTEGER -> {
        least = Integer.MIN_VALUE;
        most = Integer.MAX_VALUE;
      }
      case BIGINT -> {
        least = Long.MIN_VALUE;
        most = Long.MAX_VALUE;
      }
      default -> throw new IllegalArgumentException(kind + " is not a whole-number kind");
    }
  }

  /** The value of {@code b[start, end)}; check {@link #failure} before using it. */
  public long parse(byte[] b, int start, int end) {
    failure = null;
    int i = start;
    boolean negative = false;
    if (i < end && (b[i] == '-' || b[i] == '+')) {
      negative = b[i] == '-';
      i++;
    }
    if (i == end) {
      failure = RejectCode.BAD_NUMBER;
      return 0;
    }
    int digits = end - i;
    if (digits <= 8 && end >= 8) {
      return parseShort(b, end, digits, negative);
    }
    if (digits > 18) {
      return parseLong(b, i, end, negative);
    }
    long value = 0;
    for (; i < end; i++) {
      int digit = b[i] - '0';
      if (digit < 0 || digit > 9) {
        failure = RejectCode.BAD_NUMBER;
        return 0;
      }
      value = value * 10 + digit;
    }
    if (negative) {
      value = -value;
    }
    if (value < least || value > most) {
      failure = RejectCode.OUT_OF_RANGE;
    }
    return value;
  }

  private long parseShort(byte[] b, int end, int length, boolean negative) {
    long word = ByteWords.tailOfDigits(b, end, length);
    if (!ByteWords.areDigits(word)) {
      failure = RejectCode.BAD_NUMBER;
      return 0;
    }
    long value = negative ? -ByteWords.number(word) : ByteWords.number(word);
    if (value < least || value > most) {
      failure = RejectCode.OUT_OF_RANGE;
    }
    return value;
  }

  private long parseLong(byte[] b, int from, int end, boolean negative) {
    long value = 0;
    boolean over = false;
    for (int i = from; i < end; i++) {
      int digit = b[i] - '0';
      if (digit < 0 || digit > 9) {
        failure = RejectCode.BAD_NUMBER;
        return 0;
      }
      // Counts downwards, since the negative range is larger by one.
      over |= value < Long.MIN_VALUE / 10 || value * 10 < Long.MIN_VALUE + digit;
      value = value * 10 - digit;
    }
    over |= !negative && value == Long.MIN_VALUE;
    long signed = negative ? value : -value;
    if (over || signed < least || signed > most) {
      failure = RejectCode.OUT_OF_RANGE;
      return 0;
    }
    return signed;
  }

  /** Why the last value could not be read, or null. */
  public RejectCode failure() {
    return failure;
  }

  /** The least and the greatest value, for messages. */
  public String range() {
    return least + " to " + most;
  }
}
