package dev.dusky.core.draft;

import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;

/**
 * A column on its way into a draft.
 *
 * @param column the column
 * @param because what was seen of it
 * @param doubtful whether a person should look at it
 * @param unique whether all values in the sample are there and different
 */
record ColumnDraft(FeedColumn column, String because, boolean doubtful, boolean unique) {

  private static final int ENOUGH = 20;

  /** From the values of a field; {@code records} says how many there could be. */
  static ColumnDraft of(
      String name, FieldSource from, ColumnGuess guess, List<String> values, int records) {
    boolean notNull = values.size() == records && records >= ENOUGH;
    FeedColumn column = FeedColumn.plain(name, guess.type(), notNull).withFrom(from);
    if (guess.pattern().isPresent()) {
      column = column.withPattern(guess.pattern().get());
    }
    column = column.withMarks(guess.marks());
    boolean unique = notNull && new HashSet<>(values).size() == records;
    String nulls =
        values.size() == records
            ? ""
            : ", %s null".formatted(share(1 - values.size() / (double) records));
    return new ColumnDraft(column, guess.because() + nulls, guess.doubtful(), unique);
  }

  /**
   * The same column widened, since the sample is small, and null allowed, since the sample is a
   * part.
   *
   * @param few whether it is also a small one
   */
  ColumnDraft generous(boolean few) {
    SqlType type = column.type();
    SqlType wider =
        switch (type.kind()) {
          case SMALLINT -> SqlType.of(few ? TypeKind.BIGINT : TypeKind.INTEGER);
          case INTEGER -> SqlType.of(TypeKind.BIGINT);
          case DECIMAL ->
              SqlType.decimal(
                  Math.min(38, Math.max(few ? 18 : 0, type.precision() + 4)), type.scale());
          case VARCHAR ->
              SqlType.of(
                  TypeKind.VARCHAR,
                  Math.max(few ? 60 : 0, ColumnGuess.roomy(type.length() * (few ? 2 : 1))));
          default -> type;
        };
    return new ColumnDraft(column.withType(wider).withNotNull(false), because, doubtful, unique);
  }

  /** The same column with a type that takes more. */
  ColumnDraft relaxed(List<String> values) {
    int longest = values.stream().mapToInt(v -> v.codePointCount(0, v.length())).max().orElse(1);
    SqlType type =
        column.type().kind() == TypeKind.VARCHAR
            ? SqlType.of(TypeKind.TEXT)
            : SqlType.of(TypeKind.VARCHAR, ColumnGuess.roomy(longest));
    FeedColumn plain = FeedColumn.plain(column.name(), type, false).withFrom(column.from());
    return new ColumnDraft(plain, "too many values are no " + column.type(), true, unique);
  }

  /** The same column where values may be missing. */
  ColumnDraft nullable() {
    FeedColumn c = column;
    FeedColumn other =
        new FeedColumn(
            c.name(),
            c.type(),
            false,
            c.from(),
            c.pattern(),
            c.zone(),
            c.marks(),
            Optional.empty(),
            c.value(),
            c.check());
    return new ColumnDraft(other, because, doubtful, false);
  }

  private static String share(double part) {
    return part < 0.001 ? "under 0.1 %" : "%.1f %%".formatted(100 * part);
  }
}
