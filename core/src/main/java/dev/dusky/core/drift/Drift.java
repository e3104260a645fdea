package dev.dusky.core.drift;

import java.util.Locale;
import java.util.Optional;

/**
 * One way in which a file differs from its feed, and what was done about it.
 *
 * @param field the name or path of the field
 * @param change how it differs
 * @param seen the type of what was found, or an empty text
 * @param action what was done
 * @param records how many records show it
 * @param example one value of it, or an empty text
 * @param statement the SQL that ran for it
 * @param remark what people should know besides, or an empty text
 */
public record Drift(
    String field,
    Change change,
    String seen,
    Action action,
    long records,
    String example,
    Optional<String> statement,
    String remark) {

  /** How a file differs. */
  public enum Change {
    /** The feed does not know the field. */
    NEW,
    /** The feed's field is not there. */
    MISSING,
    /** Values do not fit the column's type. */
    TYPE;

    /** The change as shown and stored. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** The action taken. */
  public enum Action {
    /** A column was added to the landing table. */
    EXTENDED,
    /** The column's type was made wider. */
    WIDENED,
    /** It was kept in the leftovers. */
    CAPTURED,
    /** It was left out. */
    IGNORED,
    /** The column has no value in the file's rows. */
    NULL,
    /** The file was refused. */
    REFUSED;

    /** The action as shown and stored. */
    public String label() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** A drift of a file as a whole. */
  public static Drift of(String field, Change change, Action action, String remark) {
    return new Drift(field, change, "", action, 0, "", Optional.empty(), remark);
  }

  /** The same, seen in that many records. */
  public Drift in(long count) {
    return new Drift(field, change, seen, action, count, example, statement, remark);
  }

  /** The same with another action. */
  public Drift as(Action other) {
    return new Drift(field, change, seen, other, records, example, statement, remark);
  }

  /** In a sentence: {@code new field remark (text) captured, 120 records, for example 'late'}. */
  @Override
  public String toString() {
    String what =
        switch (change) {
          case NEW -> "new field " + field + (seen.isEmpty() ? "" : " (" + seen + ")");
          case MISSING -> "field " + field + " missing";
          case TYPE ->
              "values of " + field + " do not fit" + (seen.isEmpty() ? "" : " (" + seen + ")");
        };
    String done = action == Action.NULL ? "taken as null" : action.label();
    return what
        + ": "
        + done
        + (records == 0 ? "" : ", %d record%s".formatted(records, records == 1 ? "" : "s"))
        + (example.isEmpty() ? "" : ", for example '" + example + "'")
        + (remark.isEmpty() ? "" : "; " + remark);
  }
}
