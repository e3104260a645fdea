package dev.dusky.core.type;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A SQL type with its size.
 *
 * @param kind what it is
 * @param length characters of char and varchar, bytes of varbinary; 0 for unlimited
 * @param precision digits of decimal, else 0
 * @param scale decimals of decimal, else 0
 * @param form the form that the values of json are declared to have, if it is declared
 */
public record SqlType(
    TypeKind kind, int length, int precision, int scale, Optional<NestedForm> form) {

  /** The most digits a decimal may have. */
  public static final int MOST_DIGITS = 1000;

  private static final Pattern FORM =
      Pattern.compile("([a-z0-9 ]+?)\\s*(?:\\(\\s*(\\d{1,9})\\s*(?:,\\s*(\\d{1,4})\\s*)?\\))?");

  private static final Map<String, TypeKind> NAMES =
      Map.ofEntries(
          Map.entry("boolean", TypeKind.BOOLEAN),
          Map.entry("smallint", TypeKind.SMALLINT),
          Map.entry("integer", TypeKind.INTEGER),
          Map.entry("int", TypeKind.INTEGER),
          Map.entry("bigint", TypeKind.BIGINT),
          Map.entry("decimal", TypeKind.DECIMAL),
          Map.entry("numeric", TypeKind.DECIMAL),
          Map.entry("real", TypeKind.REAL),
          Map.entry("double precision", TypeKind.DOUBLE),
          Map.entry("char", TypeKind.CHAR),
          Map.entry("character", TypeKind.CHAR),
          Map.entry("varchar", TypeKind.VARCHAR),
          Map.entry("character varying", TypeKind.VARCHAR),
          Map.entry("text", TypeKind.TEXT),
          Map.entry("date", TypeKind.DATE),
          Map.entry("time", TypeKind.TIME),
          Map.entry("timestamp", TypeKind.TIMESTAMP),
          Map.entry("timestamp without time zone", TypeKind.TIMESTAMP),
          Map.entry("timestamp with time zone", TypeKind.TIMESTAMP_TZ),
          Map.entry("uuid", TypeKind.UUID),
          Map.entry("json", TypeKind.JSON),
          Map.entry("varbinary", TypeKind.BINARY),
          Map.entry("bytea", TypeKind.BINARY));

  /** A type without size. */
  public static SqlType of(TypeKind kind) {
    return new SqlType(kind, 0, 0, 0, Optional.empty());
  }

  /** A text or binary type with a length. */
  public static SqlType of(TypeKind kind, int length) {
    return new SqlType(kind, length, 0, 0, Optional.empty());
  }

  /** A decimal type. */
  public static SqlType decimal(int precision, int scale) {
    return new SqlType(TypeKind.DECIMAL, 0, precision, scale, Optional.empty());
  }

  /** The type of JSON values of a declared form. */
  public static SqlType nested(NestedForm form) {
    return new SqlType(TypeKind.JSON, 0, 0, 0, Optional.of(form));
  }

  /** Whether its values are JSON of a declared form. */
  public boolean isNested() {
    return form.isPresent();
  }

  /** The type itself, or those of all values within nested ones. */
  public Stream<SqlType> scalars() {
    return form.map(NestedForm::parts)
        .map(parts -> parts.flatMap(part -> part.type().scalars()))
        .orElseGet(() -> Stream.of(this));
  }

  /** Reads a type as SQL writes it; empty if it is none, or its size is missing or impossible. */
  public static Optional<SqlType> parse(String text) {
    Matcher form = FORM.matcher(text.strip().toLowerCase(Locale.ROOT).replaceAll("\\s+", " "));
    if (!form.matches()) {
      return Optional.empty();
    }
    TypeKind kind = NAMES.get(form.group(1));
    if (kind == null) {
      return Optional.empty();
    }
    int first = form.group(2) == null ? -1 : Integer.parseInt(form.group(2));
    int second = form.group(3) == null ? -1 : Integer.parseInt(form.group(3));
    return switch (kind) {
      case DECIMAL -> {
        int scale = Math.max(second, 0);
        yield first >= 1 && first <= MOST_DIGITS && scale <= first
            ? Optional.of(decimal(first, scale))
            : Optional.empty();
      }
      case CHAR ->
          second < 0 && first != 0 ? Optional.of(of(kind, Math.max(first, 1))) : Optional.empty();
      case VARCHAR, BINARY ->
          second < 0 && first != 0 ? Optional.of(of(kind, Math.max(first, 0))) : Optional.empty();
      default -> first < 0 ? Optional.of(of(kind)) : Optional.empty();
    };
  }

  /** The type as SQL writes it. */
  @Override
  public String toString() {
    return switch (kind) {
      case DECIMAL -> "decimal(" + precision + "," + scale + ")";
      case JSON -> form.map(NestedForm::toString).orElse(kind.sql());
      case CHAR, VARCHAR, BINARY -> length == 0 ? kind.sql() : kind.sql() + "(" + length + ")";
      default -> kind.sql();
    };
  }

  /** Whether every value of the other type is, unchanged, a value of this one. */
  public boolean holds(SqlType value) {
    return switch (value.kind()) {
      case SMALLINT, INTEGER, BIGINT -> kind.isInteger() && kind.compareTo(value.kind()) >= 0;
      case DECIMAL ->
          kind == TypeKind.DECIMAL
              && (precision == 0
                  || scale >= value.scale()
                      && precision - scale >= value.precision() - value.scale());
      case REAL -> kind == TypeKind.REAL || kind == TypeKind.DOUBLE;
      case CHAR, VARCHAR -> kind.isText() && longEnough(value);
      case TEXT -> kind.isText() && kind != TypeKind.CHAR && length == 0;
      case BINARY -> kind == TypeKind.BINARY && longEnough(value);
      case JSON -> kind == TypeKind.JSON && holdsForm(value);
      default -> kind == value.kind();
    };
  }

  private boolean holdsForm(SqlType value) {
    return form.isPresent() == value.form().isPresent()
        && (form.isEmpty() || form.get().holds(value.form().get()));
  }

  private boolean longEnough(SqlType value) {
    return length == 0 || value.length() > 0 && length >= value.length();
  }
}
