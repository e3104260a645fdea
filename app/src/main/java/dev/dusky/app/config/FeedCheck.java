package dev.dusky.app.config;

import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.record.JsonReader;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.type.TypeKind;
import java.util.Optional;
import java.util.stream.Collectors;

/** Holds a feed's expressions and paths against its columns and layout, before anything is read. */
final class FeedCheck {

  private final Section section;
  private final Feed feed;
  private final ConfigProblems problems;

  FeedCheck(Section section, Feed feed, ConfigProblems problems) {
    this.section = section;
    this.feed = feed;
    this.problems = problems;
  }

  void run() {
    FeedInputs inputs;
    try {
      inputs = FeedInputs.of(feed);
    } catch (ExpressionFault fault) {
      section.problem("columns", atFault(fault));
      return;
    }
    for (FeedColumn column : feed.columns()) {
      int line = columnLine(column);
      column
          .value()
          .ifPresent(value -> check(line, "value of " + column.name(), inputs, value, column));
      column
          .check()
          .ifPresent(check -> check(line, "check of " + column.name(), inputs, check, null));
    }
    feed.where().ifPresent(where -> check(section.line("where"), "where", inputs, where, null));
    if (feed.layout().naming() == FieldNaming.PATH) {
      for (FeedColumn column : feed.columns()) {
        if (column.from() instanceof FieldSource.At at) {
          problems.add(
              columnLine(column),
              "column %s comes from field %d, but records of layout %s have no positions"
                  .formatted(column.name(), at.position(), feed.layout().name()));
        }
      }
    }
    expectations();
    repeats();
    mode();
    if (feed.layout() instanceof JsonLayout json) {
      JsonReader.problem(json, inputs.request())
          .ifPresent(problem -> section.problem("columns", problem));
    }
  }

  private void mode() {
    if (feed.policies().replaces()
        && feed.policies().repeats().scope() == RepeatPolicy.Scope.TABLE) {
      section.problem(
          "mode",
          "mode: replace leaves no earlier rows that repeats could be compared with; use scope: load");
    }
    if (feed.policies().replaces() && section.has("revised")) {
      section.problem("revised", "with mode: replace a revised file is loaded like a new one");
    }
  }

  private void repeats() {
    RepeatPolicy policy = feed.policies().repeats();
    for (String name : policy.key()) {
      if (feed.column(name).isEmpty()) {
        section.problem(
            "repeats", "repeats names '%s', which is not a column of the feed".formatted(name));
      }
    }
    for (String name : policy.by()) {
      Optional<FeedColumn> column = feed.column(name);
      boolean ordered =
          column
              .map(FeedColumn::type)
              .filter(
                  t ->
                      t.kind().isInteger()
                          || t.kind().isTemporal()
                          || t.kind() == TypeKind.DOUBLE
                          || t.kind() == TypeKind.REAL
                          || t.kind() == TypeKind.DECIMAL && t.precision() <= 18)
              .isPresent();
      if (!ordered) {
        section.problem(
            "repeats",
            "the latest row is chosen by times or numbers of at most 18 digits; '%s' is %s"
                .formatted(
                    name, column.map(c -> c.type().toString()).orElse("no column of the feed")));
      }
    }
    boolean json =
        policy.key().isEmpty()
            && feed.columns().stream().anyMatch(c -> c.type().kind() == TypeKind.JSON);
    if (policy.scope() == RepeatPolicy.Scope.TABLE && json) {
      section.problem(
          "repeats",
          "whole rows with JSON columns cannot be compared in the table, which formats JSON differently: give a key");
    }
  }

  private void expectations() {
    Expectations expected = feed.policies().expectations();
    for (String name : expected.totals()) {
      Optional<FeedColumn> column = feed.column(name);
      TypeKind kind = column.map(c -> c.type().kind()).orElse(TypeKind.TEXT);
      if (column.isEmpty() || !kind.isInteger() && kind != TypeKind.DECIMAL) {
        section.problem(
            "totals",
            column.isEmpty()
                ? "totals names '%s', which is not a column of the feed".formatted(name)
                : "totals names %s of type %s; only integers and decimals have exact sums"
                    .formatted(name, column.get().type()));
      }
    }
    expected.volume().stream()
        .flatMap(volume -> volume.nulls().stream())
        .filter(name -> feed.column(name).isEmpty())
        .forEach(
            name ->
                section.problem(
                    "expect",
                    "nulls names '%s', which is not a column of the feed".formatted(name)));
    boolean text = feed.layout() instanceof DelimitedLayout || feed.layout() instanceof FixedLayout;
    if (expected.trailer().isPresent() && !text) {
      section.problem(
          "expect",
          "files of layout %s have no trailer; only delimited and fixed files can have one"
              .formatted(feed.layout().name()));
    }
    String inFolder = feed.policies().rejectsTo().map(to -> to.folder() + "x").orElse("");
    boolean own =
        feed.policies().rejectsTo().map(to -> to.depot().equals(feed.depot())).orElse(false);
    if (own && feed.files().matches(inFolder + ".csv")) {
      section.problem(
          "rejects-to",
          "the feed's own files pattern matches that folder: its rejects would be loaded");
    }
  }

  private int columnLine(FeedColumn column) {
    return section
        .node("columns")
        .map(node -> section.section("columns", node).line(column.name()))
        .orElse(section.line());
  }

  private void check(
      int line, String what, FeedInputs inputs, Formula formula, FeedColumn derived) {
    try {
      inputs.check(formula, derived, derived == null);
    } catch (ExpressionFault fault) {
      String fields =
          formula.names().stream()
              .filter(name -> feed.columns().stream().noneMatch(c -> c.name().equals(name)))
              .map(name -> "'" + name + "'")
              .collect(Collectors.joining(", "));
      String hint =
          fields.isEmpty()
              ? ""
              : "\n      no column of the feed, so it is read as a field of the file, of type text: "
                  + fields;
      problems.add(line, ColumnReader.pointed(what, formula.text(), fault) + hint);
    }
  }

  /** Whose fault it is when the inputs cannot be worked out. */
  private String atFault(ExpressionFault fault) {
    for (FeedColumn column : feed.columns()) {
      for (Formula formula :
          java.util.stream.Stream.concat(column.value().stream(), column.check().stream())
              .toList()) {
        if (fault.at() < formula.text().length() && fault.getMessage().contains("'")) {
          String name = fault.getMessage().split("'")[1];
          if (formula.names().contains(name)) {
            return ColumnReader.pointed(column.name(), formula.text(), fault);
          }
        }
      }
    }
    return fault.getMessage();
  }
}
