package dev.dusky.app.config;

import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.layout.XmlLayout;
import java.util.ArrayList;
import java.util.List;

/** A layout as the configuration writes it: its kind, and the keys that differ from the default. */
final class LayoutText {

  private final List<String> lines = new ArrayList<>();

  private LayoutText() {}

  static List<String> of(Layout layout) {
    LayoutText text = new LayoutText();
    text.lines.add("kind: " + layout.kind());
    if (layout instanceof DelimitedLayout l) {
      text.delimited(l);
    } else if (layout instanceof FixedLayout l) {
      text.fixed(l);
    } else if (layout instanceof JsonLayout l) {
      text.json(l);
    } else if (layout instanceof XmlLayout l) {
      text.lines.add("records: /" + String.join("/", l.records()));
    } else if (layout instanceof WorkbookLayout l) {
      text.workbook(l);
    }
    return text.lines;
  }

  /** Whether the kind's name alone says all. */
  static boolean isPlain(Layout layout) {
    return layout instanceof ColumnarLayout || of(layout).size() == 1;
  }

  private void add(String key, String value) {
    lines.add(key + ": " + value);
  }

  private void encoding(Encoding encoding) {
    if (encoding != Encoding.UTF_8) {
      add("encoding", encoding.label());
    }
  }

  private void header(HeaderUse header) {
    add("header", header == HeaderUse.NAMES ? "true" : header == HeaderUse.SKIP ? "skip" : "false");
  }

  private void delimited(DelimitedLayout l) {
    add("delimiter", YamlText.list(List.of(l.delimiter())).replaceAll("^\\[|\\]$", ""));
    if (l.quote() != '"') {
      add("quote", l.quote() < 0 ? "none" : YamlText.of(Character.toString(l.quote())));
    }
    if (l.escape() >= 0) {
      add("escape", YamlText.of(Character.toString(l.escape())));
    }
    header(l.header());
    if (l.skipLines() > 0) {
      add("skip-lines", Integer.toString(l.skipLines()));
    }
    if (!l.comment().isEmpty()) {
      add("comment", YamlText.of(l.comment()));
    }
    if (!l.nulls().equals(List.of(""))) {
      add("nulls", YamlText.list(l.nulls()));
    }
    if (l.trim()) {
      add("trim", "true");
    }
    if (l.trailingDelimiter()) {
      add("trailing-delimiter", "true");
    }
    if (l.shortRecords() == ShortRecords.FILL) {
      add("short-records", "fill");
    }
    if (l.longRecords() == LongRecords.IGNORE) {
      add("long-records", "ignore");
    }
    encoding(l.encoding());
  }

  private void fixed(FixedLayout l) {
    if (l.skipLines() > 0) {
      add("skip-lines", Integer.toString(l.skipLines()));
    }
    if (l.shortRecords() == ShortRecords.FILL) {
      add("short-records", "fill");
    }
    encoding(l.encoding());
    lines.add("fields:");
    for (FixedField field : l.fields()) {
      boolean right = field.align() == FixedField.Alignment.RIGHT;
      lines.add(
          "  %s: { start: %d, length: %d%s }"
              .formatted(
                  field.name(), field.start(), field.length(), right ? ", align: right" : ""));
    }
  }

  private void json(JsonLayout l) {
    if (l.form() != JsonForm.AUTO) {
      add("form", l.form() == JsonForm.LINES ? "lines" : "document");
    }
    l.records().ifPresent(path -> add("records", YamlText.of(path)));
    l.rows().ifPresent(path -> add("rows", YamlText.of(path)));
    if (l.emptyRows() == EmptyRows.ONE) {
      add("empty-rows", "one");
    }
    if (!l.carry().isEmpty()) {
      add("carry", YamlText.list(l.carry()));
    }
  }

  private void workbook(WorkbookLayout l) {
    if (!l.sheet().isEmpty()) {
      add("sheet", YamlText.of(l.sheet()));
    }
    if (!l.range().isEmpty()) {
      add("range", YamlText.of(l.range()));
    }
    if (l.header() != HeaderUse.NAMES) {
      header(l.header());
    }
  }
}
