package dev.dusky.app.config;

import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.JsonReader;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Reads one layout: its kind decides which keys it may have. */
final class LayoutReader {

  /** All kinds, in the order in which messages name them. */
  static final List<String> KINDS =
      List.of("delimited", "fixed", "json", "xml", "avro", "parquet", "orc", "workbook");

  static final Map<String, ShortRecords> SHORT =
      Map.of("reject", ShortRecords.REJECT, "fill", ShortRecords.FILL);

  private static final Map<String, HeaderUse> HEADERS =
      Map.of("true", HeaderUse.NAMES, "false", HeaderUse.ABSENT, "skip", HeaderUse.SKIP);
  private static final Map<String, LineEnd> LINE_ENDS =
      Map.of("auto", LineEnd.AUTO, "lf", LineEnd.LF, "crlf", LineEnd.LF, "cr", LineEnd.CR);
  private static final Map<String, LongRecords> LONG =
      Map.of("reject", LongRecords.REJECT, "ignore", LongRecords.IGNORE);
  private static final Map<String, JsonForm> FORMS =
      Map.of("auto", JsonForm.AUTO, "lines", JsonForm.LINES, "document", JsonForm.DOCUMENT);
  private static final Map<String, EmptyRows> EMPTY_ROWS =
      Map.of("none", EmptyRows.NONE, "one", EmptyRows.ONE);

  private final String name;
  private final Section section;

  private LayoutReader(String name, Section section) {
    this.name = name;
    this.section = section;
  }

  static Layout read(String name, Section section) {
    String kind = section.required("kind");
    if (!KINDS.contains(kind) && !kind.isEmpty()) {
      section.problem(
          "kind", "kind cannot be '%s'; it is one of %s".formatted(kind, String.join(", ", KINDS)));
    }
    Layout layout = new LayoutReader(name, section).ofKind(kind);
    section.done();
    return layout;
  }

  /** A layout of a kind with nothing special about it, if there is such a kind. */
  static Optional<Layout> plain(String kind) {
    if (!KINDS.contains(kind) || kind.equals("fixed") || kind.equals("xml")) {
      return Optional.empty();
    }
    Section none =
        new Section("layout " + kind, new Node.Fields(Map.of(), Map.of(), 0), new ConfigProblems());
    return Optional.of(new LayoutReader(kind, none).ofKind(kind));
  }

  private Layout ofKind(String kind) {
    return switch (kind) {
      case "fixed" -> new FixedLayoutReader(name, section).read();
      case "json" -> json();
      case "xml" -> xml();
      case "avro", "parquet", "orc" ->
          new ColumnarLayout(
              name,
              ColumnarLayout.Format.valueOf(kind.toUpperCase(Locale.ROOT)),
              section.texts("nulls").orElse(List.of()),
              recordLimit(section));
      case "workbook" -> workbook();
      default -> delimited();
    };
  }

  static int recordLimit(Section section) {
    return section.number("record-limit", 1024, 256 << 20, DelimitedLayout.DEFAULT_RECORD_LIMIT);
  }

  static Encoding encoding(Section section) {
    return section.choice(
        "encoding", Section.labels(Encoding.values(), Encoding::label), Encoding.UTF_8);
  }

  private DelimitedLayout delimited() {
    DelimitedLayout plain = DelimitedLayout.plain(name);
    String delimiter = section.text("delimiter").orElse(plain.delimiter());
    int quote = character("quote", plain.quote());
    int escape = character("escape", plain.escape());
    if (delimiter.isEmpty() || delimiter.contains("\n") || delimiter.contains("\r")) {
      section.problem("delimiter", "delimiter must be one or more characters, no line end");
      delimiter = plain.delimiter();
    }
    if (quote >= 0 && delimiter.indexOf(quote) >= 0) {
      section.problem("quote", "quote and delimiter must differ");
    }
    if (escape >= 0 && delimiter.indexOf(escape) >= 0) {
      section.problem("escape", "escape and delimiter must differ");
    }
    return new DelimitedLayout(
        name,
        delimiter,
        quote,
        escape,
        section.choice("header", HEADERS, plain.header()),
        section.number("skip-lines", 0, 1_000_000, 0),
        section.text("comment").orElse(""),
        section.texts("nulls").orElse(List.of("")),
        section.flag("nulls-in-quotes", false),
        section.flag("trim", false),
        section.flag("trailing-delimiter", false),
        section.choice("short-records", SHORT, plain.shortRecords()),
        section.choice("long-records", LONG, plain.longRecords()),
        encoding(section),
        section.choice("line-end", LINE_ENDS, plain.lineEnd()),
        recordLimit(section),
        section.number("field-limit", 1, 100_000, plain.fieldLimit()));
  }

  /** One ASCII character, or none for {@code none}. */
  private int character(String key, int otherwise) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    if (text.get().equals("none")) {
      return DelimitedLayout.NONE;
    }
    boolean usable =
        text.get().length() == 1 && text.get().charAt(0) < 0x80 && !text.get().isBlank();
    if (!usable) {
      section.problem(key, key + " must be one visible ASCII character, or none");
      return otherwise;
    }
    return text.get().charAt(0);
  }

  private JsonLayout json() {
    JsonLayout layout =
        new JsonLayout(
            name,
            section.choice("form", FORMS, JsonForm.AUTO),
            section.text("records"),
            section.text("rows"),
            section.choice("empty-rows", EMPTY_ROWS, EmptyRows.NONE),
            section.texts("carry").orElse(List.of()),
            encoding(section),
            section.texts("nulls").orElse(List.of()),
            recordLimit(section));
    boolean document = layout.records().isPresent() || !layout.carry().isEmpty();
    if (document && layout.form() == JsonForm.LINES) {
      section.problem("form", "records and carry belong to form: document, not to lines");
    }
    JsonReader.problem(layout, FieldRequest.of(List.of()))
        .ifPresent(
            problem -> {
              String key =
                  List.of("records", "rows", "carry").stream()
                      .filter(section::has)
                      .findFirst()
                      .orElse("kind");
              section.problem(key, problem);
            });
    return layout;
  }

  private XmlLayout xml() {
    String records = section.required("records");
    if (!records.isEmpty() && !records.matches("(/[^/@]+)+")) {
      section.problem(
          "records", "records must be the elements from the root on, such as /export/farms/farm");
    }
    return new XmlLayout(
        name,
        Arrays.stream(records.split("/")).filter(step -> !step.isEmpty()).toList(),
        section.flag("trim", true),
        section.texts("nulls").orElse(List.of("")),
        recordLimit(section));
  }

  private WorkbookLayout workbook() {
    String range = section.text("range").orElse("");
    if (!range.matches("|[A-Za-z]{1,3}([1-9]\\d{0,6})?(:([A-Za-z]{1,3})?([1-9]\\d{0,6})?)?")) {
      section.problem("range", "'" + range + "' is not a range of cells, such as B3:F or A1:F200");
    }
    return new WorkbookLayout(
        name,
        section.text("sheet").orElse(""),
        range,
        section.choice("header", HEADERS, HeaderUse.NAMES),
        section.flag("trim", true),
        section.texts("nulls").orElse(List.of("")),
        recordLimit(section));
  }
}
