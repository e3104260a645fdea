package dev.dusky.core.table;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A column by whose values a table in object storage is divided. The transforms are those of
 * Iceberg's table format.
 *
 * @param transform what is made of the value
 * @param column the column
 * @param number the number of buckets, or the width that values are cut to; 0 for others
 */
public record PartitionField(Transform transform, String column, int number) {

  /** What is made of a value. */
  public enum Transform {
    IDENTITY,
    YEAR,
    MONTH,
    DAY,
    HOUR,
    BUCKET,
    TRUNCATE;

    boolean numbered() {
      return this == BUCKET || this == TRUNCATE;
    }

    private boolean takes(TypeKind kind) {
      return switch (this) {
        case IDENTITY -> kind != TypeKind.REAL && kind != TypeKind.DOUBLE;
        case YEAR, MONTH, DAY ->
            kind == TypeKind.DATE || kind == TypeKind.TIMESTAMP || kind == TypeKind.TIMESTAMP_TZ;
        case HOUR -> kind == TypeKind.TIMESTAMP || kind == TypeKind.TIMESTAMP_TZ;
        case BUCKET -> kind != TypeKind.BOOLEAN && kind != TypeKind.REAL && kind != TypeKind.DOUBLE;
        case TRUNCATE ->
            switch (kind) {
              case SMALLINT, INTEGER, BIGINT, DECIMAL, CHAR, VARCHAR, TEXT, JSON, BINARY -> true;
              default -> false;
            };
      };
    }
  }

  private static final Pattern FORM =
      Pattern.compile("(?:(\\w+)\\s*\\(\\s*(?:(\\d{1,9})\\s*,\\s*)?)?(\\w+)\\s*(\\))?");

  /** Parses {@code farm_code}, {@code day(collected_at)} or {@code bucket(16, farm_code)}. */
  public static Optional<PartitionField> parse(String text) {
    Matcher form = FORM.matcher(text.strip());
    if (!form.matches() || (form.group(1) == null) != (form.group(4) == null)) {
      return Optional.empty();
    }
    String word = form.group(1) == null ? "identity" : form.group(1);
    for (Transform transform : Transform.values()) {
      if (transform.name().equals(word.toUpperCase(Locale.ROOT))) {
        int number = form.group(2) == null ? 0 : Integer.parseInt(form.group(2));
        return transform.numbered() == number > 0
            ? Optional.of(new PartitionField(transform, form.group(3), number))
            : Optional.empty();
      }
    }
    return Optional.empty();
  }

  /** Why values of that type cannot be divided so, if they cannot. */
  public Optional<String> unfit(SqlType type) {
    return transform.takes(type.kind()) && !type.isNested()
        ? Optional.empty()
        : Optional.of("%s does not apply to column %s, which is %s".formatted(this, column, type));
  }

  /** As it is declared. */
  @Override
  public String toString() {
    String word = transform.name().toLowerCase(Locale.ROOT);
    return transform == Transform.IDENTITY
        ? column
        : number > 0 ? "%s(%d, %s)".formatted(word, number, column) : word + "(" + column + ")";
  }
}
