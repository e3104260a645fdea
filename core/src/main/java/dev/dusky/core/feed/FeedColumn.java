package dev.dusky.core.feed;

import dev.dusky.core.expression.Formula;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.time.ZoneId;
import java.util.Optional;

/**
 * One column of a feed.
 *
 * @param name its name in the landing table
 * @param type its type
 * @param notNull whether a missing value makes a reject
 * @param from where the value is in a record
 * @param pattern the declared form of dates, times, booleans or binary data
 * @param zone the zone of timestamps that carry no offset
 * @param marks the marks in numbers
 * @param defaultText the text taken when there is no value
 * @param value the expression that the value comes from, instead of a field
 * @param check the condition that must not be false
 */
public record FeedColumn(
    String name,
    SqlType type,
    boolean notNull,
    FieldSource from,
    Optional<String> pattern,
    Optional<ZoneId> zone,
    NumberMarks marks,
    Optional<String> defaultText,
    Optional<Formula> value,
    Optional<Formula> check) {

  /** A column with nothing special about it, found under its own name or in the next field. */
  public static FeedColumn plain(String name, SqlType type, boolean notNull) {
    return new FeedColumn(
        name,
        type,
        notNull,
        new FieldSource.Next(),
        Optional.empty(),
        Optional.empty(),
        NumberMarks.PLAIN,
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  /** A field taken as text. */
  public static FeedColumn text(String name, FieldSource from) {
    return plain(name, SqlType.of(TypeKind.TEXT), false).withFrom(from);
  }

  /** The same of another type. */
  public FeedColumn withType(SqlType other) {
    return new FeedColumn(
        name, other, notNull, from, pattern, zone, marks, defaultText, value, check);
  }

  /** The same with or without the duty to have a value. */
  public FeedColumn withNotNull(boolean other) {
    return new FeedColumn(name, type, other, from, pattern, zone, marks, defaultText, value, check);
  }

  /** The same from another field. */
  public FeedColumn withFrom(FieldSource other) {
    return new FeedColumn(
        name, type, notNull, other, pattern, zone, marks, defaultText, value, check);
  }

  /** The same with a declared form. */
  public FeedColumn withPattern(String other) {
    return new FeedColumn(
        name, type, notNull, from, Optional.of(other), zone, marks, defaultText, value, check);
  }

  /** The same with other marks in numbers. */
  public FeedColumn withMarks(NumberMarks other) {
    return new FeedColumn(
        name, type, notNull, from, pattern, zone, other, defaultText, value, check);
  }

  /** The same with a default. */
  public FeedColumn withDefault(String other) {
    return new FeedColumn(
        name, type, notNull, from, pattern, zone, marks, Optional.of(other), value, check);
  }

  /** The same derived by an expression. */
  public FeedColumn withValue(Formula other) {
    return new FeedColumn(
        name, type, notNull, from, pattern, zone, marks, defaultText, Optional.of(other), check);
  }

  /** The same with a check. */
  public FeedColumn withCheck(Formula other) {
    return new FeedColumn(
        name, type, notNull, from, pattern, zone, marks, defaultText, value, Optional.of(other));
  }

  /** The name or path of the field, where fields have names. */
  public String fieldName() {
    return from instanceof FieldSource.Named named ? named.name() : name;
  }
}
