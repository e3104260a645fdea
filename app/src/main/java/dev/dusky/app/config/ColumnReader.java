package dev.dusky.app.config;

import dev.dusky.core.expression.ExpressionFault;
import dev.dusky.core.expression.Formula;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.type.BooleanText;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TemporalPattern;
import dev.dusky.core.type.TypeKind;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Reads one column of a feed: a type alone, or a block with the type among its keys. */
final class ColumnReader {

  private ColumnReader() {}

  static FeedColumn read(String name, Node node, Section columns, ConfigProblems problems) {
    Section section =
        node instanceof Node.Scalar scalar && scalar.text() != null
            ? columns.section(
                "column " + name,
                new Node.Fields(Map.of("type", node), Map.of("type", node.line()), node.line()))
            : columns.section("column " + name, node);
    if (!name.matches("[a-z_][a-z0-9_]{0,62}")) {
      problems.add(
          columns.line(name),
          "'" + name + "' is not a column name: use lower-case letters, digits and underscores");
    }
    String declared = section.required("type").strip();
    String lower = declared.toLowerCase(Locale.ROOT);
    boolean notNull = lower.endsWith(" not null");
    String typeText = notNull ? lower.substring(0, lower.length() - " not null".length()) : lower;
    Optional<SqlType> type = SqlType.parse(typeText);
    if (type.isEmpty() && !declared.isEmpty()) {
      section.problem("type", unknownType(name, declared));
    }
    FeedColumn column =
        new FeedColumn(
            name,
            NestedFormReader.read(section, type.orElse(SqlType.of(TypeKind.TEXT)), problems),
            notNull,
            source(section),
            section.text("pattern"),
            zone(section),
            marks(section),
            section.text("default"),
            formula(section, "value"),
            formula(section, "check"));
    checkPattern(section, column);
    if (column.value().isPresent() && column.defaultText().isPresent()) {
      section.problem("default", "a derived column takes no default; write coalesce in its value");
    }
    boolean number =
        column.from() instanceof FieldSource.OfFile of && of.fact().equals(FileFacts.RECORD_NUMBER);
    if (number && !column.type().kind().isInteger()) {
      section.problem("type", "{%s} is a bigint".formatted(FileFacts.RECORD_NUMBER));
    }
    section.done();
    return column;
  }

  private static String unknownType(String name, String declared) {
    String hint =
        declared.startsWith("decimal") || declared.startsWith("numeric")
            ? "; write decimal(precision,scale)"
            : NearestName.of(
                    declared.replaceAll("[( ].*", ""),
                    List.of(
                        "boolean",
                        "smallint",
                        "integer",
                        "bigint",
                        "decimal",
                        "real",
                        "char",
                        "varchar",
                        "text",
                        "date",
                        "time",
                        "timestamp",
                        "uuid",
                        "json",
                        "bytea"))
                .map(near -> "; the nearest one is " + near)
                .orElse("");
    return "column %s: '%s' is not a SQL type%s".formatted(name, declared, hint);
  }

  /** An expression, if there is one and it can be read. */
  static Optional<Formula> formula(Section section, String key) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(Formula.of(text.get()));
    } catch (ExpressionFault fault) {
      section.problem(key, pointed(key, text.get(), fault));
      return Optional.empty();
    }
  }

  /** The error of an expression, with a mark below the character at fault. */
  static String pointed(String what, String text, ExpressionFault fault) {
    int from = text.lastIndexOf('\n', Math.max(0, fault.at() - 1)) + 1;
    int to = text.indexOf('\n', fault.at());
    String line = text.substring(from, to < 0 ? text.length() : to);
    return "%s: at character %d, %s\n      %s\n      %s^"
        .formatted(what, fault.at() + 1, fault.getMessage(), line, " ".repeat(fault.at() - from));
  }

  private static FieldSource source(Section section) {
    Optional<String> from = section.text("from");
    if (from.isEmpty()) {
      return new FieldSource.Next();
    }
    if (from.get().matches("\\{[A-Za-z_][A-Za-z0-9_.]*\\}")) {
      String fact = from.get().substring(1, from.get().length() - 1);
      if (fact.contains(".") && !FileFacts.NAMES.contains(fact)) {
        section.problem(
            "from",
            "there is no {%s}; there are {%s}"
                .formatted(fact, String.join("}, {", FileFacts.NAMES)));
      }
      return new FieldSource.OfFile(fact);
    }
    return from.get().matches("[1-9]\\d{0,4}")
        ? new FieldSource.At(Integer.parseInt(from.get()))
        : new FieldSource.Named(from.get());
  }

  private static Optional<ZoneId> zone(Section section) {
    Optional<String> text = section.text("zone");
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(ZoneId.of(text.get()));
    } catch (DateTimeException e) {
      section.problem("zone", "'" + text.get() + "' is not a time zone: " + e.getMessage());
      return Optional.empty();
    }
  }

  private static NumberMarks marks(Section section) {
    String decimal = section.text("decimal-mark").orElse(".");
    String group = section.text("group-mark").orElse("");
    if (decimal.length() != 1 || decimal.charAt(0) >= 0x80) {
      section.problem("decimal-mark", "decimal-mark must be one ASCII character");
      return NumberMarks.PLAIN;
    }
    if (group.codePointCount(0, group.length()) > 1 || group.equals(decimal)) {
      section.problem("group-mark", "group-mark must be one character, not the decimal mark");
      return NumberMarks.PLAIN;
    }
    return new NumberMarks(decimal.charAt(0), group);
  }

  private static void checkPattern(Section section, FeedColumn column) {
    TypeKind kind = column.type().kind();
    if (column.pattern().isPresent()) {
      String pattern = column.pattern().get();
      try {
        if (kind.isTemporal()) {
          TemporalPattern compiled = TemporalPattern.of(pattern);
          if (!compiled.tellsAll(kind)) {
            section.problem(
                "pattern",
                "'%s' does not describe a complete %s, so values in this form cannot be read"
                    .formatted(pattern, kind.sql()));
          }
        } else if (kind == TypeKind.BOOLEAN) {
          BooleanText.of(pattern);
        } else if (kind != TypeKind.BINARY || !List.of("hex", "base64").contains(pattern)) {
          section.problem(
              "pattern", "a column of type %s takes no such pattern".formatted(column.type()));
        }
      } catch (IllegalArgumentException e) {
        section.problem("pattern", e.getMessage());
      }
    }
    if (column.zone().isPresent() && kind != TypeKind.TIMESTAMP_TZ) {
      section.problem("zone", "only a timestamp with time zone takes a zone");
    }
    if (!column.marks().equals(NumberMarks.PLAIN) && !kind.isNumber()) {
      section.problem("decimal-mark", "only numbers take marks");
    }
  }
}
