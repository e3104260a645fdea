package dev.dusky.app.config;

import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.NumberMarks;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** A feed as the configuration writes it. */
public final class FeedText {

  private FeedText() {}

  static List<String> of(Feed feed, String layout, HabitDraft habit) {
    List<String> lines = new ArrayList<>();
    lines.add("depot: " + YamlText.of(feed.depot()));
    lines.add("files: " + YamlText.inFlow(feed.files().toString()));
    lines.add("layout: " + YamlText.of(layout));
    lines.add("into: " + feed.into());
    lines.add("create: " + feed.create());
    if (!feed.tolerance().equals(Tolerance.NONE)) {
      lines.add("tolerance: " + feed.tolerance());
    }
    if (!feed.ignore().isEmpty()) {
      lines.add("ignore: " + YamlText.list(feed.ignore()));
    }
    lines.addAll(HabitText.of(habit));
    lines.add("columns:");
    int width = feed.columns().stream().mapToInt(c -> c.name().length()).max().orElse(1) + 1;
    for (FeedColumn column : feed.columns()) {
      String name = column.name() + ":" + " ".repeat(width - column.name().length());
      lines.add("  " + name + column(column));
    }
    return lines;
  }

  /** The declared form of JSON values. */
  private static String nested(NestedForm form) {
    if (form instanceof NestedForm.Items items) {
      return "[" + part(items.element()) + "]";
    }
    if (form instanceof NestedForm.Entries entries) {
      return "{ \"*\": " + part(entries.value()) + " }";
    }
    NestedForm.Members object = (NestedForm.Members) form;
    return object.members().stream()
        .map(member -> YamlText.inFlow(member.name()) + ": " + part(member.part()))
        .collect(Collectors.joining(", ", "{ ", object.open() ? ", \"*\": skip }" : " }"));
  }

  private static String part(NestedForm.Part part) {
    return part.type().form().map(FeedText::nested).orElse(YamlText.inFlow(part.toString()));
  }

  /** A column as the configuration writes it behind its name. */
  public static String column(FeedColumn column) {
    boolean nested = column.type().isNested();
    String type = (nested ? "json" : column.type()) + (column.notNull() ? " not null" : "");
    List<String> keys = new ArrayList<>();
    column.type().form().ifPresent(form -> keys.add("nested: " + nested(form)));
    if (column.from() instanceof FieldSource.Named || column.from() instanceof FieldSource.At) {
      String from =
          column.from() instanceof FieldSource.At at
              ? Integer.toString(at.position())
              : column.fieldName();
      keys.add("from: " + (from.matches("\\d+") ? from : YamlText.inFlow(from)));
    } else if (column.from() instanceof FieldSource.OfFile of) {
      keys.add("from: \"" + of + "\"");
    }
    column.pattern().ifPresent(pattern -> keys.add("pattern: " + YamlText.inFlow(pattern)));
    if (!column.marks().equals(NumberMarks.PLAIN)) {
      if (column.marks().decimal() != '.') {
        keys.add("decimal-mark: \"" + column.marks().decimal() + "\"");
      }
      if (!column.marks().group().isEmpty()) {
        keys.add(
            "group-mark: "
                + YamlText.list(List.of(column.marks().group())).replaceAll("^\\[|\\]$", ""));
      }
    }
    column.zone().ifPresent(zone -> keys.add("zone: " + zone.getId()));
    column.defaultText().ifPresent(text -> keys.add("default: " + YamlText.inFlow(text)));
    column.value().ifPresent(value -> keys.add("value: " + YamlText.inFlow(value.text())));
    column.check().ifPresent(check -> keys.add("check: " + YamlText.inFlow(check.text())));
    if (keys.isEmpty()) {
      return type;
    }
    return "{ type: " + YamlText.inFlow(type) + ", " + String.join(", ", keys) + " }";
  }
}
