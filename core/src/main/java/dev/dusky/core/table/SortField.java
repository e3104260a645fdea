package dev.dusky.core.table;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A column by whose values the rows of a data file are sorted. Null is less than any value.
 *
 * @param column the column
 * @param descending whether greater values come first
 */
public record SortField(String column, boolean descending) {

  private static final Pattern FORM = Pattern.compile("(\\w+)(?:\\s+(asc|desc))?");

  /** Parses {@code farm_code} or {@code collected_at desc}. */
  public static Optional<SortField> parse(String text) {
    Matcher form = FORM.matcher(text.strip());
    return form.matches()
        ? Optional.of(new SortField(form.group(1), "desc".equals(form.group(2))))
        : Optional.empty();
  }

  /** Why values of that type are not sorted, if they are not. */
  public Optional<String> unfit(SqlType type) {
    return type.kind() == TypeKind.JSON
        ? Optional.of("column %s is json, which has no order".formatted(column))
        : Optional.empty();
  }

  /** As it is declared. */
  @Override
  public String toString() {
    return descending ? column + " desc" : column;
  }
}
