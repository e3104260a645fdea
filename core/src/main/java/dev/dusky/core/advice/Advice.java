package dev.dusky.core.advice;

import dev.dusky.core.draft.ColumnGuess;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.TableName;
import dev.dusky.core.warehouse.TableRule;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * The usual ways out of a group of problems, made concrete by its values: first how table or feed
 * could take them, if they are right; then how they are corrected, if they are wrong.
 */
public final class Advice {

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
  private final List<TableRule> rules;
  private final FeedColumn column;
  private final List<Way> ways = new ArrayList<>();

  private Advice(Feed feed, ProblemGroup group, List<TableRule> rules) {
    this.feed = feed;
    this.group = group;
    this.rules = rules;
    this.column = feed.column(group.column()).orElse(null);
  }

  /**
   * The ways out.
   *
   * @param rules the rules of the landing table, or none if they are not known
   */
  public static List<Way> of(Feed feed, ProblemGroup group, List<TableRule> rules) {
    Advice advice = new Advice(feed, group, rules);
    advice.fill();
    return List.copyOf(advice.ways);
  }

  private void fill() {
    switch (group.code()) {
      case TEXT_TOO_LONG -> widenText();
      case OUT_OF_RANGE, TOO_MANY_DECIMALS -> widenNumber();
      case BAD_NUMBER -> readNumber();
      case BAD_DATE, BAD_TIME, BAD_TIMESTAMP -> readMoment();
      case BAD_BOOLEAN -> readBoolean();
      case BAD_UUID, BAD_BINARY -> takeAsText();
      case NULL_VALUE -> allowNull();
      case FAILED_CHECK -> changeCheck();
      case FAILED_EXPRESSION ->
          told("Guard the expression of %s, with nullif, coalesce or case".formatted(name()));
      case KEY_TAKEN -> waiveRepeats();
      case UNKNOWN_KEY -> addParents();
      case FAILED_CONSTRAINT, OVERLAPPING -> dropConstraint();
      case REFUSED_BY_TABLE, LEFT_OUT ->
          told("Change the trigger or rule of %s that refuses them".formatted(feed.into()));
      default -> changeLayout();
    }
    correct();
  }

  private void changeLayout() {
    switch (group.code()) {
      case TOO_FEW_FIELDS -> layout("Take what short records lack as null", "short-records: fill");
      case TOO_MANY_FIELDS ->
          layout(
              "Leave out what long records have beyond their last field", "long-records: ignore");
      case BROKEN_QUOTE -> layout("If quotes mean nothing in these files, say so", "quote: none");
      case BAD_ENCODING ->
          layout("If the files are in another encoding, say so", "encoding: windows-1252");
      case RECORD_TOO_LARGE ->
          layout("If such large records are right, allow them", "record-limit: 64MB");
      case UNKNOWN_KIND -> told("Name that kind of record in the layout's kinds");
      case REPEATED_MEMBER -> told("Ask the sender which of the members counts");
      case SEVERAL_VALUES ->
          told(
              feed.layout() instanceof JsonLayout
                  ? "Take one by its index, such as [0], or all into a json column"
                  : "Ask the sender which of the values counts");
      case WRONG_FILE -> {
        told("Stage the file where the feed that fits it looks, and remove it here");
        told(
            "If it is right, draft its columns anew: dusky draft %s:%s"
                .formatted(feed.depot(), group.first().path()));
      }
      default -> {
        if (group.code() == RejectCode.BAD_JSON && column != null) {
          takeAsText();
        }
      }
    }
  }

  private void told(String text) {
    ways.add(Way.of(text));
  }

  private void layout(String text, String key) {
    ways.add(Way.of(text).layout(key));
  }

  private String name() {
    return group.column().isEmpty() ? "the record" : group.column();
  }

  private void widenText() {
    if (column == null) {
      return;
    }
    int longest = group.values().longest().codePointCount(0, group.values().longest().length());
    boolean cut = longest >= dev.dusky.core.reject.Problem.VALUE_LIMIT;
    SqlType wider = cut ? SqlType.of(TypeKind.TEXT) : SqlType.of(TypeKind.VARCHAR, longest);
    retype(
        wider,
        "If right, make room: the longest has %s%,d characters"
            .formatted(cut ? "at least " : "", longest));
  }

  private void retype(SqlType type, String why) {
    ways.add(Way.of(why).sql(alter(type)).column(column.withType(type)));
  }

  private String alter(SqlType type) {
    return "alter table %s alter column %s set data type %s"
        .formatted(feed.into(), column.name(), type);
  }

  private void widenNumber() {
    Optional<SqlType> wider = column == null ? Optional.empty() : widerNumber();
    wider.ifPresent(type -> retype(type, "If right, make room for all of them"));
    if (group.code() == RejectCode.TOO_MANY_DECIMALS
        && column != null
        && column.value().isEmpty()) {
      String own =
          "round(cast(%s as decimal(38,%d)), %d)"
              .formatted(
                  column.name(),
                  Math.max(column.type().scale(), decimals()),
                  column.type().scale());
      ways.add(
          Way.of("Or round them")
              .column(column.withValue(dev.dusky.core.expression.Formula.of(own))));
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

  private void readNumber() {
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
        Way.of("%s %s can be read, but rows in the declared form no longer".formatted(with, which))
            .column(changed));
  }

  private void nothingWords() {
    List<String> values = group.values().values();
    boolean words =
        !values.isEmpty()
            && values.stream()
                .allMatch(
                    v -> NOTHING_WORDS.contains(v.strip().toLowerCase(java.util.Locale.ROOT)));
    if (words) {
      List<String> nulls = new ArrayList<>(feed.layout().nulls());
      nulls.addAll(values);
      layout(
          "If they mean that there is no value, say so",
          nulls.stream()
              .map(v -> '"' + v + '"')
              .collect(Collectors.joining(", ", "nulls: [", "]")));
    }
  }

  private void readMoment() {
    if (column == null || group.values().values().isEmpty()) {
      return;
    }
    List<FeedColumn> candidates = new ArrayList<>();
    for (String value : group.values().examples(20)) {
      for (String pattern : ColumnGuess.patterns(column.type().kind(), value)) {
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

  private void readBoolean() {
    if (column != null && group.values().values().size() <= 4) {
      told(
          "If these are words for true and false, add them: pattern: \"true|yes/false|no\", with %s on their side"
              .formatted(quoted(group.values().values())));
    }
  }

  private void takeAsText() {
    if (column == null) {
      return;
    }
    SqlType text = SqlType.of(TypeKind.TEXT);
    ways.add(
        Way.of("If right, take the column as text")
            .sql(alter(text))
            .column(
                FeedColumn.plain(column.name(), text, column.notNull()).withFrom(column.from())));
  }

  private void allowNull() {
    if (column == null) {
      return;
    }
    Way way = Way.of("If they may be missing, say so").column(column.withNotNull(false));
    ways.add(
        way.sql(
            "alter table %s alter column %s drop not null".formatted(feed.into(), column.name())));
    if (column.value().isEmpty()) {
      told("Or take a default for them: default: \"…\" in the column of the feed");
    }
  }

  private void changeCheck() {
    String condition = column == null ? "" : column.check().map(Object::toString).orElse("");
    told(
        "If right, change the check %s%s"
            .formatted(condition.isEmpty() ? "of the feed" : "'" + condition + "'", range()));
  }

  private String range() {
    ValueFacts values = group.values();
    return values.smallest().isEmpty() || values.values().size() < 2
        ? ""
        : "; they reach from %s to %s".formatted(values.smallest().get(), values.largest().get());
  }

  private void waiveRepeats() {
    told(
        "If they are repeats of rows that are there, waive them: dusky rejects waive %s --column \"%s\" --code key-taken --reason \"repeats\""
            .formatted(feed.name(), group.column()));
  }

  private void addParents() {
    for (TableRule rule : rules) {
      if (rule instanceof TableRule.Reference to
          && String.join(", ", to.columns()).equals(group.column())
          && to.targets().size() == 1) {
        String missing =
            group.values().examples(20).stream()
                .map(v -> "('" + v.replace("'", "''") + "')")
                .collect(Collectors.joining(", "));
        int more = group.values().values().size() - 20;
        ways.add(
            Way.of(
                    "If right, the keys are missing in %s%s: load them there, or"
                        .formatted(to.table(), more > 0 ? " (and %,d more)".formatted(more) : ""))
                .sql(
                    "insert into %s (%s) values %s"
                        .formatted(to.table(), to.targets().get(0), missing)));
        return;
      }
    }
    told("If right, load the rows that they refer to first");
  }

  private void dropConstraint() {
    TableName table = feed.into();
    Optional<TableRule> rule =
        rules.stream()
            .filter(r -> r instanceof TableRule.Check && group.message().contains(r.name()))
            .findFirst();
    Way way = Way.of("If right, change the constraint of " + table + range());
    ways.add(
        rule.map(r -> way.sql("alter table %s drop constraint %s".formatted(table, r.name())))
            .orElse(way));
  }

  /** The last way: the values are wrong, and are corrected. */
  private void correct() {
    if (group.code() == RejectCode.WRONG_FILE) {
      return;
    }
    List<String> values = group.values().values();
    String what =
        values.isEmpty()
            ? "the %s"
                .formatted(group.count() == 1 ? "record" : "%,d records".formatted(group.count()))
            : values.size() <= 3
                ? quoted(values)
                : "the %,d%s values, such as %s"
                    .formatted(
                        values.size(),
                        group.values().more() ? " and more" : "",
                        quoted(values.subList(0, 2)));
    told(
        "If wrong, correct %s: dusky rejects export %s%s --code %s, then dusky mend"
            .formatted(
                what,
                feed.name(),
                group.column().isEmpty() ? "" : " --column \"" + group.column() + "\"",
                group.code().label()));
  }

  private static String quoted(List<String> values) {
    return values.stream().map(v -> "'" + v + "'").collect(Collectors.joining(", "));
  }
}
