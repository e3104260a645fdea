package dev.dusky.core.advice;

import dev.dusky.core.draft.TemporalForm;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * The remedies that declare a column in another way, so that it takes the values: a wider type,
 * another decimal mark, another pattern. What is proposed was tried on the values themselves.
 */
final class ColumnAdvice {

  private static final List<NumberMarks> MARKS =
      List.of(
          new NumberMarks(',', ""),
          new NumberMarks(',', "."),
          new NumberMarks(',', " "),
          new NumberMarks('.', ","),
          new NumberMarks('.', " "),
          new NumberMarks('.', "'"),
          new NumberMarks(',', "'"));

  private static final List<String> NOTHING_WORDS =
      List.of("n/a", "na", "null", "none", "nil", "-", "--", "?", "#n/a", "unknown", "missing");

  private final Feed feed;
  private final ProblemGroup group;
  private final FeedColumn column;
  private final List<Remedy> ways;

  /** Advice on the column of a group; the ways found are added to the list. */
  ColumnAdvice(Feed feed, ProblemGroup group, FeedColumn column, List<Remedy> ways) {
    this.feed = feed;
    this.group = group;
    this.column = column;
    this.ways = ways;
  }

  private void told(String text) {
    ways.add(Remedy.of(text));
  }

  void widenText() {
    if (column == null) {
      return;
    }
    int longest = group.values().longest().codePointCount(0, group.values().longest().length());
    boolean cut = longest >= Problem.VALUE_LIMIT;
    SqlType wider = cut ? SqlType.of(TypeKind.TEXT) : SqlType.of(TypeKind.VARCHAR, longest);
    retype(
        wider,
        "If right, widen the column: the longest has %s%,d characters"
            .formatted(cut ? "at least " : "", longest));
  }

  private void retype(SqlType type, String why) {
    ways.add(Remedy.of(why).sql(alter(type)).column(column.withType(type)));
  }

  private String alter(SqlType type) {
    return "alter table %s alter column %s set data type %s"
        .formatted(feed.into(), column.name(), type);
  }

  void widenNumber() {
    Optional<SqlType> wider = column == null ? Optional.empty() : widerNumber();
    wider.ifPresent(type -> retype(type, "If right, widen the column for all of them"));
    if (group.code() == RejectCode.TOO_MANY_DECIMALS
        && column != null
        && column.value().isEmpty()) {
      String own =
          "round(cast(%s as decimal(38,%d)), %d)"
              .formatted(
                  column.name(),
                  Math.max(column.type().scale(), decimals()),
                  column.type().scale());
      ways.add(Remedy.of("Or round them").column(column.withValue(Formula.of(own))));
    }
  }

  private int decimals() {
    return group.values().values().stream()
        .map(ValueFacts::number)
        .flatMap(Optional::stream)
        .mapToInt(n -> Math.max(0, n.stripTrailingZeros().scale()))
        .max()
        .orElse(0);
  }

  private Optional<SqlType> widerNumber() {
    List<BigDecimal> numbers =
        group.values().values().stream().map(ValueFacts::number).flatMap(Optional::stream).toList();
    if (numbers.isEmpty() || column.type().kind() == TypeKind.REAL) {
      return Optional.empty();
    }
    int scale = Math.max(column.type().scale(), decimals());
    for (TypeKind kind : List.of(TypeKind.INTEGER, TypeKind.BIGINT)) {
      SqlType type = SqlType.of(kind);
      if (column.type().kind().isInteger() && takes(column.withType(type))) {
        return Optional.of(type);
      }
    }
    int digits =
        numbers.stream().mapToInt(n -> Math.max(1, n.precision() - n.scale())).max().orElse(1);
    int now =
        column.type().kind() == TypeKind.DECIMAL
            ? column.type().precision() - column.type().scale()
            : 19;
    return Optional.of(SqlType.decimal(Math.max(digits, now) + scale, scale));
  }

  private boolean takes(FeedColumn candidate) {
    return ColumnTrial.takes(candidate, group.values().values());
  }

  void readNumber() {
    List<FeedColumn> candidates = new ArrayList<>();
    for (NumberMarks marks : column == null ? List.<NumberMarks>of() : MARKS) {
      candidates.add(column.withMarks(marks));
    }
    Optional<FeedColumn> best = best(candidates);
    if (best.isEmpty()) {
      nothingWords();
      if (ways.isEmpty()) {
        takeAsText();
      }
      return;
    }
    NumberMarks marks = best.get().marks();
    String groups =
        marks.group().isEmpty() ? "" : " and '%s' between groups".formatted(marks.group());
    declare(best.get(), "With '%s' as decimal mark%s".formatted(marks.decimal(), groups));
  }

  /** The declaration that reads most of the values, if it reads any. */
  private Optional<FeedColumn> best(List<FeedColumn> candidates) {
    FeedColumn best = null;
    long most = 0;
    for (FeedColumn candidate : candidates) {
      long taken = taken(candidate);
      if (taken > most) {
        best = candidate;
        most = taken;
      }
    }
    return Optional.ofNullable(best);
  }

  private long taken(FeedColumn candidate) {
    if (takes(candidate)) {
      return group.values().values().size();
    }
    return group.values().values().stream()
        .filter(value -> ColumnTrial.takes(candidate, List.of(value)))
        .count();
  }

  private void declare(FeedColumn changed, String with) {
    long taken = taken(changed);
    int all = group.values().values().size();
    String which =
        all == 1
            ? "it"
            : taken == all ? "all %,d".formatted(all) : "%,d of the %,d".formatted(taken, all);
    ways.add(
        Remedy.of(
                "%s %s can be read, but rows in the declared form no longer".formatted(with, which))
            .column(changed));
  }

  private void nothingWords() {
    List<String> values = group.values().values();
    boolean words =
        !values.isEmpty()
            && values.stream()
                .allMatch(v -> NOTHING_WORDS.contains(v.strip().toLowerCase(Locale.ROOT)));
    if (words) {
      List<String> nulls = new ArrayList<>(feed.layout().nulls());
      nulls.addAll(values);
      ways.add(
          Remedy.of("If they mean that there is no value, declare them as nulls")
              .layout(
                  nulls.stream()
                      .map(v -> '"' + v + '"')
                      .collect(Collectors.joining(", ", "nulls: [", "]"))));
    }
  }

  void readMoment() {
    if (column == null || group.values().values().isEmpty()) {
      return;
    }
    List<FeedColumn> candidates = new ArrayList<>();
    for (String value : group.values().examples(20)) {
      for (String pattern : TemporalForm.patterns(column.type().kind(), value)) {
        FeedColumn candidate = column.withPattern(pattern);
        if (!candidates.contains(candidate)) {
          candidates.add(candidate);
        }
      }
    }
    Optional<FeedColumn> best = best(candidates);
    if (best.isPresent()) {
      declare(best.get(), "With the pattern " + best.get().pattern().orElse(""));
      return;
    }
    nothingWords();
    if (ways.isEmpty()) {
      told(
          group.values().values().size() == 1
              ? "No pattern reads it: ask the sender what it means"
              : "No pattern reads any of them: ask the sender what they mean");
    }
  }

  void readBoolean() {
    if (column != null && group.values().values().size() <= 4) {
      told(
          "If these are words for true and false, add them: pattern: \"true|yes/false|no\", with %s added on the right side"
              .formatted(Advice.quoted(group.values().values())));
    }
  }

  void takeAsText() {
    if (column == null) {
      return;
    }
    SqlType text = SqlType.of(TypeKind.TEXT);
    ways.add(
        Remedy.of("If right, take the column as text")
            .sql(alter(text))
            .column(
                FeedColumn.plain(column.name(), text, column.notNull()).withFrom(column.from())));
  }

  void allowNull() {
    if (column == null) {
      return;
    }
    Remedy way = Remedy.of("If they may be missing, allow null").column(column.withNotNull(false));
    ways.add(
        way.sql(
            "alter table %s alter column %s drop not null".formatted(feed.into(), column.name())));
    if (column.value().isEmpty()) {
      told("Or use a default: default: \"…\" in the column of the feed");
    }
  }
}
