package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.draft.HabitDraft;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.layout.XmlLayout;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Layouts of every kind, expressions and captures, as the configuration declares them. */
class LayoutsTest {

  private static final String HEAD =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      """;

  private static final String FEED =
      """
      feeds:
        f:
          depot: yard
          files: "%s"
          layout: %s
          into: intake.t
          columns:
      %s
      """;

  @TempDir Path folder;

  private Configuration read(String text) throws IOException {
    return Configuration.read(Files.writeString(folder.resolve("dusky.yaml"), text));
  }

  private Layout layout(String text) throws IOException {
    return read(HEAD + "layouts:\n  l: " + text + "\n").layout("l");
  }

  private String refusal(String text) {
    Failure failure = assertThrows(Failure.class, () -> read(text));
    assertEquals(Failure.Kind.CONFIGURATION, failure.kind());
    return failure.getMessage();
  }

  private Feed feed(String files, String layout, String... columns) throws IOException {
    return read(HEAD + feedText(files, layout, columns)).feed("f");
  }

  private static String feedText(String files, String layout, String... columns) {
    return FEED.formatted(files, layout, "      " + String.join("\n      ", columns));
  }

  @Test
  void fixedByFields() throws IOException {
    FixedLayout layout =
        (FixedLayout)
            layout(
                """

                    kind: fixed
                    skip-lines: 1
                    record-length: 40
                    short-records: fill
                    kinds: { at: 1-2, rows: [D], skip: T }
                    fields:
                      tanker: 3-5
                      litres: { start: 6, length: 7, align: right, pad: "0" }
                      day: { start: 3, length: 8, of: H }
                """);
    assertEquals(
        List.of(
            new FixedField("tanker", 3, 3, FixedField.Alignment.LEFT, ' ', ""),
            new FixedField("litres", 6, 7, FixedField.Alignment.RIGHT, '0', ""),
            new FixedField("day", 3, 8, FixedField.Alignment.LEFT, ' ', "H")),
        layout.fields());
    assertEquals(40, layout.recordLength());
    assertEquals(2, layout.kinds().orElseThrow().length());
    assertEquals(List.of("D"), layout.kinds().orElseThrow().rows());
  }

  @Test
  void fixedByWidths() throws IOException {
    FixedLayout layout = (FixedLayout) layout("{ kind: fixed, widths: { a: 3, b: 10, c: 1 } }");
    assertEquals(List.of(1, 4, 14), layout.fields().stream().map(FixedField::start).toList());
  }

  @Test
  void json() throws IOException {
    JsonLayout layout =
        (JsonLayout)
            layout(
                "{ kind: json, form: document, records: \"$.data[*]\", rows: \"$.r[*]\","
                    + " empty-rows: one, carry: [\"$.id\"], nulls: [\"-\"] }");
    assertEquals(JsonForm.DOCUMENT, layout.form());
    assertEquals(Optional.of("$.data[*]"), layout.records());
    assertEquals(Optional.of("$.r[*]"), layout.rows());
    assertEquals(EmptyRows.ONE, layout.emptyRows());
    assertEquals(List.of("$.id"), layout.carry());
  }

  @Test
  void xmlWorkbookAndColumnar() throws IOException {
    assertEquals(
        List.of("export", "farm"),
        ((XmlLayout) layout("{ kind: xml, records: /export/farm }")).records());
    WorkbookLayout book =
        (WorkbookLayout) layout("{ kind: workbook, sheet: Prices, range: B3:F, header: false }");
    assertEquals("Prices", book.sheet());
    assertEquals("B3:F", book.range());
    assertEquals(HeaderUse.ABSENT, book.header());
    for (String kind : List.of("avro", "parquet", "orc")) {
      assertEquals(kind, ((ColumnarLayout) layout("{ kind: " + kind + " }")).kind());
    }
  }

  @Test
  void aKindAloneIsALayout() throws IOException {
    assertEquals("parquet", feed("*.parquet", "parquet", "a: integer").layout().kind());
    assertEquals("json", feed("*.json", "json", "a: integer").layout().kind());
    assertTrue(
        refusal(HEAD + feedText("*", "fixed", "a: integer"))
            .contains("there is no layout 'fixed'"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "{ kind: cvs } ~ kind cannot be 'cvs'; it is one of delimited, fixed, json",
        "{ kind: fixed } ~ a fixed layout needs either fields or widths",
        "{ kind: fixed, fields: { a: 5-3 } } ~ '5-3' is not a place: write first-last",
        "{ kind: fixed, fields: { a: { start: 1 } } } ~ field a needs the key length",
        "{ kind: fixed, widths: { a: 0 } } ~ a must be a whole number from 1",
        "{ kind: fixed, fields: { a: { start: 1, length: 2, of: H } } } ~ the layout has no kinds",
        "{ kind: fixed, widths: { a: 1 }, kinds: { at: x, rows: D } } ~ 'x' is not a place",
        "{ kind: json, delimiter: ; } ~ layout l has no key 'delimiter'",
        "{ kind: json, form: lines, records: $.a } ~ records and carry belong to form: document",
        "{ kind: json, records: $..a } ~ cannot be followed while streaming",
        "{ kind: json, rows: '$.a[?@.b]' } ~ cannot give rows",
        "{ kind: json, records: '$.a[' } ~ is not a JSONPath: at character 5",
        "{ kind: xml } ~ layout l needs the key records",
        "{ kind: xml, records: farm } ~ must be the elements from the root on",
        "{ kind: workbook, range: 3B } ~ '3B' is not a range of cells",
        "{ kind: parquet, header: true } ~ layout l has no key 'header'"
      })
  void mistakesInLayouts(String text, String message) {
    String refusal = refusal(HEAD + "layouts:\n  l: " + text + "\n");
    assertTrue(refusal.contains(message), refusal);
  }

  @Test
  void expressionsAndFacts() throws IOException {
    Feed feed =
        read(HEAD
                + feedText(
                        "c/{day:date}/*.csv",
                        "{ kind: delimited }",
                        "litres: { type: \"decimal(9,1)\", check: litres > 0 }",
                        "route: { type: varchar(9), value: \"upper(trim(route_code))\" }",
                        "day: { type: date, from: \"{day}\" }",
                        "n: { type: bigint, from: \"{record.number}\" }")
                    .replace("    into:", "    where: \"litres < 5\"\n    into:"))
            .feed("f");
    assertEquals("litres > 0", feed.columns().get(0).check().orElseThrow().text());
    assertEquals("upper(trim(route_code))", feed.columns().get(1).value().orElseThrow().text());
    assertEquals(new FieldSource.OfFile("day"), feed.columns().get(2).from());
    assertEquals("litres < 5", feed.where().orElseThrow().text());
    assertEquals(List.of("day"), feed.files().captureNames());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "a: { type: integer, check: a > } ~ check: at character 4, a value is expected here",
        "a: { type: integer, check: \"a > 'x'\" } ~ 'x' is not a value of type integer",
        "a: { type: integer, check: b > 3 } ~ read as a field of the file, of type text: 'b'",
        "a: { type: integer, check: a + 1 } ~ must be true or false, this is of type integer",
        "a: { type: integer, value: a || 1, default: 3 } ~ a derived column takes no default",
        "a: { type: integer, from: \"{file.nmae}\" } ~ there is no {file.nmae}; there are {file.path}",
        "a: { type: text, from: \"{record.number}\" } ~ {record.number} is a bigint",
        "a: { type: integer, value: \"uper(b)\" } ~ there is no function uper"
      })
  void mistakesInColumns(String column, String message) {
    String refusal = refusal(HEAD + feedText("*.csv", "{ kind: delimited }", column));
    assertTrue(refusal.contains(message), refusal);
    assertTrue(refusal.contains("line 10"), refusal);
  }

  @Test
  void aMarkStandsBelowTheCharacterAtFault() {
    String refusal =
        refusal(
            HEAD
                + feedText(
                    "*.csv",
                    "{ kind: delimited }",
                    "a: { type: integer, check: \"a > 3 andd b\" }"));
    assertTrue(
        refusal.contains(
            "check: at character 7, an operator or the end is expected here, not 'andd'\n"
                + "      a > 3 andd b\n            ^"),
        refusal);
  }

  @Test
  void jsonFieldsAreNamedByPath() {
    String refusal =
        refusal(HEAD + feedText("*.json", "json", "a: { type: integer, check: b > 3 }"));
    assertTrue(refusal.contains("write its path, \"$.b\""), refusal);
    assertTrue(
        refusal(HEAD + feedText("*.json", "json", "a: { type: integer, from: \"$.a[\" }"))
            .contains("is not a JSONPath"));
    assertTrue(
        refusal(HEAD + feedText("*.json", "json", "a: { type: integer, from: 3 }"))
            .contains("have no positions"));
  }

  @Test
  void malformedCaptures() {
    assertTrue(
        refusal(HEAD + feedText("{Day}/*.csv", "{ kind: delimited }", "a: integer"))
            .contains("{name}, {name:date} or {name:integer} is expected"));
  }

  @Test
  void optionsOfTheCommandLineChangeALayout() throws IOException {
    DelimitedLayout plain = DelimitedLayout.plain("p");
    DelimitedLayout changed =
        (DelimitedLayout)
            LayoutOptions.with(
                plain,
                List.of("delimiter=;", "header=false", "nulls=[\"-\", n/a]", "encoding=utf-16le"));
    assertEquals(";", changed.delimiter());
    assertEquals(HeaderUse.ABSENT, changed.header());
    assertEquals(List.of("-", "n/a"), changed.nulls());
    assertEquals(
        "\t", ((DelimitedLayout) LayoutOptions.with(plain, List.of("delimiter=\\t"))).delimiter());
    Layout json = LayoutOptions.with(plain, List.of("kind=json", "rows=$.a[*]"));
    assertEquals("json", json.kind());
    Failure failure =
        assertThrows(Failure.class, () -> LayoutOptions.with(plain, List.of("delimeter=;")));
    assertTrue(
        failure.getMessage().contains("nearest known one is 'delimiter'"), failure.getMessage());
    assertThrows(Failure.class, () -> LayoutOptions.with(plain, List.of("delimiter")));
  }

  @Test
  void layoutsAreWrittenAsTheyAreRead() throws IOException {
    for (String text :
        List.of(
            "{ kind: delimited, delimiter: \"|\", quote: none, header: false, skip-lines: 2, trim: true }",
            "{ kind: delimited, delimiter: \"\\t\", nulls: [\"\", \"\\\\N\"], encoding: iso-8859-1 }",
            "{ kind: fixed, fields: { a: 1-3, b: { start: 4, length: 2, align: right } }, skip-lines: 1 }",
            "{ kind: json, records: \"$.a[*]\", rows: \"$.r[*].v[*]\", carry: [\"$.id\"] }",
            "{ kind: xml, records: /a/b }",
            "{ kind: workbook, sheet: My Sheet, range: A3, header: false }",
            "{ kind: parquet }")) {
      Layout layout = layout(text);
      String written = String.join("\n    ", LayoutText.of(layout));
      assertEquals(layout, layout("\n    " + written), written);
    }
  }

  @Test
  void feedsAreAddedWithoutDisturbingWhatIsThere() throws IOException {
    String before =
        """
        # my configuration
        warehouse: jdbc:h2:file:./warehouse   # embedded

        depots:
            yard: "file:./intake"

        feeds:
            # the first
            old:
                depot: yard
                files: "*.csv"
                layout: delimited
                into: intake.old
                columns:
                    a: integer
            # behind the first

        # the end
        limits: { ratio: 300 }
        """;
    Path file = Files.writeString(folder.resolve("dusky.yaml"), before);
    Feed feed =
        feed(
            "x/{day:date}/*.csv",
            "{ kind: delimited, delimiter: \";\" }",
            "a: integer",
            "b: { type: date, from: Some Day, pattern: \"dd/MM/yyyy\" }");
    Files.writeString(file, before);
    ConfigurationFile configuration = ConfigurationFile.read(file);
    configuration.add(feed, HabitDraft.NONE);
    configuration.write();
    String after = Files.readString(file);
    for (String line : before.lines().toList()) {
      assertTrue(after.lines().toList().contains(line), line + "\n" + after);
    }
    Configuration read = Configuration.read(file);
    assertEquals(List.of("old", "f"), List.copyOf(read.feeds().keySet()));
    assertEquals(feed.columns(), read.feed("f").columns());
    assertEquals(feed.files(), read.feed("f").files());
    assertEquals(";", ((DelimitedLayout) read.feed("f").layout()).delimiter());
  }

  @Test
  void hintsAreColumns() throws IOException {
    assertEquals(
        "[a bigint true, b date false dd/MM/yyyy]",
        ColumnHints.read(List.of("a=bigint not null", "b={type: date, pattern: dd/MM/yyyy}"))
            .stream()
            .map(
                c ->
                    c.name()
                        + " "
                        + c.type()
                        + " "
                        + c.notNull()
                        + c.pattern().map(p -> " " + p).orElse(""))
            .toList()
            .toString());
    assertThrows(Failure.class, () -> ColumnHints.read(List.of("a")));
    Failure failure = assertThrows(Failure.class, () -> ColumnHints.read(List.of("a=bigit")));
    assertEquals(Failure.Kind.USAGE, failure.kind());
    assertTrue(failure.getMessage().contains("'bigit' is not a SQL type"), failure.getMessage());
  }
}
