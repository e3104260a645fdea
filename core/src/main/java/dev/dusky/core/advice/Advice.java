package dev.dusky.core.advice;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableRule;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * The usual remedies of a group of problems, made concrete by its values: first how table or feed
 * could take them, if they are right; then how they are corrected, if they are wrong.
 */
public final class Advice {

  private final Feed feed;
  private final ProblemGroup group;
  private final List<TableRule> rules;
  private final FeedColumn column;
  private final List<Remedy> ways = new ArrayList<>();
  private final ColumnAdvice declared;

  private Advice(Feed feed, ProblemGroup group, List<TableRule> rules) {
    this.feed = feed;
    this.group = group;
    this.rules = rules;
    this.column = feed.column(group.column()).orElse(null);
    this.declared = new ColumnAdvice(feed, group, column, ways);
  }

  /**
   * The remedies.
   *
   * @param rules the rules of the landing table, or none if they are not known
   */
  public static List<Remedy> of(Feed feed, ProblemGroup group, List<TableRule> rules) {
    Advice advice = new Advice(feed, group, rules);
    advice.fill();
    return List.copyOf(advice.ways);
  }

  private void fill() {
    if (column != null && column.type().isNested() && group.code() != RejectCode.FAILED_CHECK) {
      changeForm();
      correct();
      return;
    }
    switch (group.code()) {
      case TEXT_TOO_LONG -> declared.widenText();
      case OUT_OF_RANGE, TOO_MANY_DECIMALS -> declared.widenNumber();
      case BAD_NUMBER -> declared.readNumber();
      case BAD_DATE, BAD_TIME, BAD_TIMESTAMP -> declared.readMoment();
      case BAD_BOOLEAN -> declared.readBoolean();
      case BAD_UUID, BAD_BINARY -> declared.takeAsText();
      case NULL_VALUE -> declared.allowNull();
      case UNKNOWN_MEMBER -> changeForm();
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
          layout("Drop the surplus fields of long records", "long-records: ignore");
      case BROKEN_QUOTE ->
          layout("If quotes have no meaning in these files, turn them off", "quote: none");
      case BAD_ENCODING ->
          layout("If the files are in another encoding, declare it", "encoding: windows-1252");
      case RECORD_TOO_LARGE ->
          layout("If such large records are right, raise the limit", "record-limit: 67108864");
      case UNKNOWN_KIND -> told("Add that kind of record to the layout's kinds");
      case REPEATED_MEMBER -> told("Ask the sender which of the members is valid");
      case SEVERAL_VALUES ->
          told(
              feed.layout() instanceof JsonLayout
                  ? "Take one by its index, such as [0], or all into a json column"
                  : "Ask the sender which of the values is valid");
      case WRONG_FILE -> {
        told("Stage the file where the feed that fits it looks, and remove it here");
        told(
            "If it is right, draft its columns again: dusky draft %s:%s"
                .formatted(feed.depot(), group.first().path()));
      }
      default -> {
        if (group.code() == RejectCode.BAD_JSON && column != null) {
          declared.takeAsText();
        }
      }
    }
  }

  private void changeForm() {
    if (group.code() == RejectCode.UNKNOWN_MEMBER) {
      told(
          "Declare the member under nested of column %s, and add it to the table; or add '\"*\": skip' there, so that other members are left out"
              .formatted(name()));
    } else {
      told(
          "If right, change what nested declares of column %s, or take it as json without nested"
              .formatted(name()));
    }
  }

  private void told(String text) {
    ways.add(Remedy.of(text));
  }

  private void layout(String text, String key) {
    ways.add(Remedy.of(text).layout(key));
  }

  private String name() {
    return group.column().isEmpty() ? "the record" : group.column();
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
            Remedy.of(
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
    Remedy way = Remedy.of("If right, change the constraint of " + table + range());
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

  static String quoted(List<String> values) {
    return values.stream().map(v -> "'" + v + "'").collect(Collectors.joining(", "));
  }
}
