package dev.dusky.core.type;

import java.nio.charset.StandardCharsets;
import java.util.Locale;

/**
 * The narrowest common type of texts, by what each of them is without doubt: whole numbers, decimal
 * numbers, {@code true} and {@code false}, ISO dates and timestamps, UUIDs; text otherwise.
 */
public final class TypeGuess {

  private static final int MOST_DIGITS = 38;

  private final IntegerText longs = new IntegerText(TypeKind.BIGINT);
  private final TemporalText dates = new TemporalText(TypeKind.DATE, null, null);
  private final TemporalText timestamps = new TemporalText(TypeKind.TIMESTAMP, null, null);
  private final TemporalText moments = new TemporalText(TypeKind.TIMESTAMP_TZ, null, null);
  private boolean integer = true;
  private boolean decimal = true;
  private boolean bool = true;
  private boolean date = true;
  private boolean timestamp = true;
  private boolean zoned = true;
  private boolean uuid = true;
  private boolean json;
  private int whole;
  private int scale;
  private long longest;
  private long count;
  private String example = "";

  /** Takes a value into account; {@code structure} says that it is a JSON object or array. */
  public void add(String text, boolean structure) {
    if (count++ == 0) {
      example = text;
    }
    longest = Math.max(longest, text.codePointCount(0, text.length()));
    json |= structure;
    number(text);
    String lower = text.toLowerCase(Locale.ROOT);
    bool &= lower.equals("true") || lower.equals("false");
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    date = date && reads(dates, bytes);
    timestamp = timestamp && reads(timestamps, bytes);
    zoned = zoned && reads(moments, bytes);
    uuid &= uuid && text.matches("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}");
  }

  private static boolean reads(TemporalText reader, byte[] text) {
    reader.parse(text, 0, text.length);
    return reader.failure() == null;
  }

  private void number(String text) {
    if (!decimal) {
      return;
    }
    // A leading zero is how codes look, not numbers.
    boolean plain = text.matches("-?(0|[1-9]\\d*)(\\.\\d+)?");
    int point = text.indexOf('.');
    decimal = plain;
    if (!plain) {
      integer = false;
      return;
    }
    int digits = (point < 0 ? text.length() : point) - (text.startsWith("-") ? 1 : 0);
    whole = Math.max(whole, digits);
    scale = Math.max(scale, point < 0 ? 0 : text.length() - point - 1);
    decimal = whole + scale <= MOST_DIGITS;
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    if (integer) {
      longs.parse(bytes, 0, bytes.length);
      integer = point < 0 && longs.failure() == null;
    }
  }

  /** Takes another guess into account. */
  public void add(TypeGuess other) {
    if (other.count == 0) {
      return;
    }
    example = count == 0 ? other.example : example;
    count += other.count;
    integer &= other.integer;
    decimal &= other.decimal;
    bool &= other.bool;
    date &= other.date;
    timestamp &= other.timestamp;
    zoned &= other.zoned;
    uuid &= other.uuid;
    json |= other.json;
    whole = Math.max(whole, other.whole);
    scale = Math.max(scale, other.scale);
    decimal &= whole + scale <= MOST_DIGITS;
    longest = Math.max(longest, other.longest);
  }

  /** How many values there were. */
  public long count() {
    return count;
  }

  /** The first of them. */
  public String example() {
    return example;
  }

  /** The type that holds all of them and more of their kind. */
  public SqlType type() {
    if (json) {
      return SqlType.of(TypeKind.JSON);
    }
    if (count == 0) {
      return SqlType.of(TypeKind.TEXT);
    }
    if (integer) {
      return SqlType.of(TypeKind.BIGINT);
    }
    if (decimal) {
      return SqlType.decimal(Math.min(MOST_DIGITS, Math.max(18, whole + scale)), scale);
    }
    if (bool) {
      return SqlType.of(TypeKind.BOOLEAN);
    }
    if (date) {
      return SqlType.of(TypeKind.DATE);
    }
    if (timestamp) {
      return SqlType.of(TypeKind.TIMESTAMP);
    }
    if (zoned) {
      return SqlType.of(TypeKind.TIMESTAMP_TZ);
    }
    return SqlType.of(uuid ? TypeKind.UUID : TypeKind.TEXT);
  }

  /**
   * The least type that is wider than {@code type} and holds all values too; the same type if there
   * is none.
   */
  public SqlType widened(SqlType type) {
    return switch (type.kind()) {
      case SMALLINT, INTEGER ->
          !integer
              ? type
              : SqlType.of(
                  type.kind() == TypeKind.SMALLINT && whole < 10
                      ? TypeKind.INTEGER
                      : TypeKind.BIGINT);
      case DECIMAL -> {
        int digits = Math.max(whole, type.precision() - type.scale());
        int decimals = Math.max(scale, type.scale());
        yield decimal && digits + decimals <= MOST_DIGITS
            ? SqlType.decimal(digits + decimals, decimals)
            : type;
      }
      case VARCHAR ->
          longest > 1_000_000
              ? type
              : SqlType.of(
                  TypeKind.VARCHAR, (int) Math.max(type.length(), (longest + 9) / 10 * 10));
      default -> type;
    };
  }
}
