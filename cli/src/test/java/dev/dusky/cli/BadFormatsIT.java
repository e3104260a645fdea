package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.cli.demo.WrenfoldData;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Bad input of every format, through the built program: told, never swallowed. */
class BadFormatsIT {

  private static final String CONFIG =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      feeds:
        f:
          depot: yard
          files: "%s"
          layout: %s
          into: intake.t
          create: true
          tolerance: any
          columns:
      %s
      """;

  @TempDir Path folder;
  private Program dusky;

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(folder.resolve("intake"));
    dusky = Program.within(folder);
  }

  private void feed(String files, String layout, String... columns) throws IOException {
    dusky.file(
        "dusky.yaml", CONFIG.formatted(files, layout, "      " + String.join("\n      ", columns)));
  }

  private void bytes(String name, byte[] content) throws IOException {
    Path file = folder.resolve("intake").resolve(name);
    Files.createDirectories(file.getParent());
    Files.write(file, content);
  }

  private void text(String name, String content) throws IOException {
    bytes(name, content.getBytes(StandardCharsets.UTF_8));
  }

  private Run load(int code, String... messages) throws Exception {
    Run run = dusky.run("load").expect(code);
    for (String message : messages) {
      assertTrue(run.all().contains(message), () -> message + " is missing in\n" + run.all());
    }
    assertFalse(run.all().contains("\tat "), run::all);
    return run;
  }

  private long rows() throws Exception {
    Run run = dusky.run("sql", "--json", "select count(*) as n from intake.t").expect(0);
    return Long.parseLong(run.out().replaceAll("\\D", ""));
  }

  @Test
  void aFileOfAnotherKindSaysWhatItIs() throws Exception {
    new WrenfoldData(3, 50).write(folder.resolve("made"), folder.resolve("late"));
    byte[] parquet = Files.readAllBytes(folder.resolve("made/prices/prices-history.parquet"));
    byte[] workbook = Files.readAllBytes(folder.resolve("made/prices/prices-2026-03.xlsx"));
    feed("*.x", "{ kind: delimited }", "a: integer");
    bytes("a.x", parquet);
    bytes("b.x", workbook);
    text("c.x", "a\n1\n");
    load(
        1,
        "a.x is not delimited text: its first bytes are those of a Parquet file",
        "a zip archive or workbook",
        "posted    c.x");
    feed("*.x", "parquet", "a: integer");
    text("d.x", "a\n2\n");
    load(1, "d.x is not a Parquet file", "a.x looks like a file of another feed");
    feed("*.x", "workbook", "a: integer");
    load(1, "a.x is not a workbook");
    feed("*.x", "{ kind: json }", "a: integer");
    load(1, "its first bytes are those of a Parquet file");
    feed("*.x", "{ kind: xml, records: /a/b }", "a: integer");
    load(1, "is not well-formed XML");
  }

  @Test
  void columnarFilesOfAnotherShapeAreDealtWithToo() throws Exception {
    new WrenfoldData(3, 50).write(folder.resolve("made"), folder.resolve("late"));
    bytes("a.parquet", Files.readAllBytes(folder.resolve("made/prices/prices-history.parquet")));
    dusky.file(
        "dusky.yaml",
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { yard: "file:./intake" }
        feeds:
          kept: { depot: yard, files: "*.parquet", layout: parquet, into: intake.kept, create: true, drift: capture, columns: { grade: varchar(20), more: text } }
          grown: { depot: yard, files: "*.parquet", layout: parquet, into: intake.grown, create: true, drift: { new: extend, widen: true }, columns: { grade: varchar(1) } }
          strict: { depot: yard, files: "*.parquet", layout: parquet, into: intake.strict, create: true, drift: refuse, columns: { grade: varchar(20) } }
        """);
    load(
        1,
        "field more missing: taken as null, 130 records",
        "new field valid_from (date): captured, 130 records",
        "new field base_price (decimal(18,4)): extended",
        "values of grade do not fit (text): widened, 52 records",
        "a.parquet differs from feed strict: valid_from is new");
    Run kept =
        dusky.run("sql", "--json", "select leftovers as l from intake.kept where dusky_row = 1");
    assertTrue(
        kept.out().contains("\\\"base_price\\\":\\\"0.38\\\",\\\"litres\\\":\\\"100000\\\""),
        kept.out());
    Run grown =
        dusky.run(
            "sql",
            "--json",
            "select base_price as p, litres as l from intake.grown where dusky_row = 1");
    assertEquals("{\"p\":0.3800,\"l\":100000}", grown.out().strip());
    dusky.run("promote", "kept", "base_price").expect(0);
    Run same =
        dusky.run(
            "sql",
            "--json",
            "select count(*) as n from intake.kept k join intake.grown g on g.dusky_row = k.dusky_row"
                + " where k.base_price = g.base_price and k.grade = g.grade");
    assertEquals("{\"n\":130}", same.out().strip());
    dusky.run("balance").expect(0);
  }

  @Test
  void cutFilesAreRefused() throws Exception {
    new WrenfoldData(3, 50).write(folder.resolve("made"), folder.resolve("late"));
    byte[] parquet = Files.readAllBytes(folder.resolve("made/prices/prices-history.parquet"));
    feed("*.parquet", "parquet", "grade: varchar(20)", "litres: bigint");
    bytes("cut.parquet", Arrays.copyOf(parquet, parquet.length - 100));
    bytes("whole.parquet", parquet);
    load(1, "cut.parquet is cut or damaged", "posted    whole.parquet");
    assertEquals(130, rows());
    byte[] workbook = Files.readAllBytes(folder.resolve("made/prices/prices-2026-03.xlsx"));
    feed("*.xlsx", "{ kind: workbook, sheet: Price }", "grade: varchar(20)");
    bytes("whole.xlsx", workbook);
    bytes("cut.xlsx", Arrays.copyOf(workbook, workbook.length / 2));
    load(1, "cut.xlsx is cut or damaged", "has no sheet 'Price': it has 'Prices', 'Notes'");
  }

  @Test
  void membersOfArchivesAreFilesOfTheirOwn() throws Exception {
    ByteArrayOutputStream zip = new ByteArrayOutputStream();
    try (ZipOutputStream out = new ZipOutputStream(zip)) {
      for (String name : List.of("a.csv", "in/b.csv", "../c.csv", "note.txt")) {
        out.putNextEntry(new ZipEntry(name));
        out.write(("n\n" + name.length() + "\n").getBytes(StandardCharsets.US_ASCII));
      }
    }
    bytes("drops/day.zip", zip.toByteArray());
    bytes("drops/cut.zip", Arrays.copyOf(zip.toByteArray(), zip.size() - 40));
    feed(
        "drops/*.zip!/**/*.csv",
        "{ kind: delimited }",
        "n: integer",
        "file: { type: text, from: \"{file.name}\" }");
    load(
        1,
        "posted    drops/day.zip!/a.csv",
        "posted    drops/day.zip!/in/b.csv",
        "drops/day.zip!/../c.csv has an unsafe name",
        "drops/cut.zip cannot be opened as a zip archive");
    assertEquals(2, rows());
    assertTrue(dusky.run("files", "f").expect(0).out().contains("drops/day.zip!/in/b.csv"));
    load(1, "c.csv has an unsafe name");
    assertEquals(2, rows());
  }

  private static byte[] zip(String... namesAndTexts) throws IOException {
    ByteArrayOutputStream zip = new ByteArrayOutputStream();
    try (ZipOutputStream out = new ZipOutputStream(zip)) {
      for (int i = 0; i < namesAndTexts.length; i += 2) {
        out.putNextEntry(new ZipEntry(namesAndTexts[i]));
        out.write(namesAndTexts[i + 1].getBytes(StandardCharsets.ISO_8859_1));
      }
    }
    return zip.toByteArray();
  }

  @Test
  void archivesWithinArchivesAreNotOpenedAndToldAsSuch() throws Exception {
    String inner = new String(zip("a.csv", "n\n1\n"), StandardCharsets.ISO_8859_1);
    bytes("day.zip", zip("inner.zip", inner, "b.csv", "n\n2\n"));
    feed("*.zip", "{ kind: delimited }", "n: integer");
    Run run = load(1, "it is a zip archive, or a workbook, within an archive", "unpack it");
    assertFalse(run.all().contains("give the feed a layout"), run::all);
    assertEquals(1, rows());
    dusky.file("dusky.yaml", CONFIG.substring(0, CONFIG.indexOf("feeds:")));
    Run draft = dusky.run("draft", "yard:");
    assertTrue(draft.all().contains("a zip archive within an archive"), draft::all);
  }

  @Test
  void workbooksOfOtherFormsAreNamed() throws Exception {
    feed("*.x", "workbook", "n: integer");
    String strict = "<workbook xmlns='http://purl.oclc.org/ooxml/spreadsheetml/main'/>";
    bytes("strict.x", zip("[Content_Types].xml", "<Types/>", "xl/workbook.xml", strict));
    String binary = "<Types>application/vnd.ms-excel.sheet.binary.macroEnabled.main</Types>";
    bytes("binary.x", zip("[Content_Types].xml", binary, "xl/workbook.bin", "\u0083"));
    String open = "application/vnd.oasis.opendocument.spreadsheet";
    bytes("open.x", zip("mimetype", open, "content.xml", "<a/>"));
    load(
        1,
        "it is of the strict form of ISO/IEC 29500",
        "it is of the binary form (.xlsb)",
        "it is of the OpenDocument form (.ods)");
  }

  @Test
  void whatALibrarySaysNamesNothingOfTheProgram() throws Exception {
    String x = "x".repeat(100);
    for (String kind : List.of("parquet", "orc", "avro", "workbook")) {
      String begin =
          Map.of("parquet", "PAR1", "orc", "ORC", "avro", "Obj\u0001", "workbook", "PK").get(kind);
      feed("*." + kind, kind, "n: integer");
      text("a." + kind, begin + x);
      bytes(
          "b." + kind,
          (begin + x + "\u00ff\u00ff\u0001\u0000" + begin).getBytes(StandardCharsets.ISO_8859_1));
      Run run = load(1, "a." + kind + " is cut or damaged", "b." + kind);
      assertFalse(
          run.all().matches("(?s).*(@[0-9a-f]{4,}|dev\\.dusky|org\\.apache|/tmp/).*"), run::all);
    }
  }

  @Test
  void brokenJsonCostsALineOrTheDocument() throws Exception {
    feed("*.json*", "json", "n: integer");
    text(
        "lines.jsonl",
        "{\"n\": 1}\n{\"n\": }\n{\"n\": 3} x\n" + "[".repeat(10_000) + "\n{\"n\": 5}\n");
    text("document.json", "[{\"n\": 1},\n {\"n\": 2},\n {\"n\" 3}]");
    text("tail.json", "[{\"n\": 1}]\n]");
    load(
        1,
        "posted    lines.jsonl  read 5 = loaded 2 + duplicate 0 + rejected 3",
        "document.json is not well-formed JSON: at line 3",
        "tail.json is not well-formed JSON");
    assertEquals(2, rows());
    Run rejects = dusky.run("rejects", "--list", "9").expect(0);
    assertTrue(rejects.out().contains("bad-json"), rejects.out());
    assertTrue(rejects.out().contains("{\"n\": }"), rejects.out());
  }

  @Test
  void specialNumbersAreNoNumbersUnlessTheTypeHasThem() throws Exception {
    feed("*.csv", "{ kind: delimited }", "d: decimal(9,2)", "f: double precision");
    text("a.csv", "d,f\n1.5,NaN\nNaN,1\n2,Infinity\nInfinity,2\n");
    load(0, "read 4 = loaded 2 + duplicate 0 + rejected 2");
    feed("*.json", "json", "d: decimal(9,2)", "f: double precision");
    text("a.json", "{\"d\": 1, \"f\": NaN}\n{\"d\": 2, \"f\": 1e400}\n{\"d\": 3, \"f\": 4}\n");
    load(0, "read 3 = loaded 1 + duplicate 0 + rejected 2");
  }

  @Test
  void namesInHeadersMayBeAnything() throws Exception {
    text("a.csv", "select,\"quo\"\"te\",from,a;b\n1,2,3,4\n");
    feed(
        "*.csv",
        "{ kind: delimited }",
        "select_: { type: integer, from: select }",
        "quote: { type: integer, from: 'quo\"te' }",
        "from_: { type: integer, from: from }",
        "both: { type: integer, value: 'cast(\"a;b\" as integer) * 2' }");
    load(0, "loaded 1");
    Run run = dusky.run("sql", "--json", "select quote, both from intake.t").expect(0);
    assertTrue(run.out().contains("\"quote\":2") || run.out().contains("\"QUOTE\":2"), run.out());
    text("twice.csv", "both,both\n1,2\n");
    feed("twice.csv", "{ kind: delimited }", "both: integer");
    load(1, "names column 'both' twice in its header");
  }

  @Test
  void twoThousandColumnsAreLoaded() throws Exception {
    StringBuilder head = new StringBuilder();
    StringBuilder row = new StringBuilder();
    for (int c = 0; c < 2_000; c++) {
      head.append(c == 0 ? "" : ",").append("Column ").append(c);
      row.append(c == 0 ? "" : ",").append(c);
    }
    text("wide.csv", head + "\n" + row + "\n" + row + "\n");
    dusky.file(
        "dusky.yaml", "warehouse: jdbc:h2:file:./warehouse\ndepots: { yard: \"file:./intake\" }\n");
    Run draft = dusky.run("draft", "yard:wide.csv", "--name", "t").expect(0);
    assertTrue(draft.out().contains("column_1999"), draft.out().substring(0, 2_000));
    load(0, "loaded 2");
    assertEquals(2, rows());
  }

  @Test
  void mixedLineEndsNulsAndEncodings() throws Exception {
    feed("*.csv", "{ kind: delimited }", "a: text", "b: text");
    bytes("mixed.csv", "a,b\r\n1,x\n2,y\r\n3,z".getBytes(StandardCharsets.US_ASCII));
    bytes(
        "bad.csv",
        new byte[] {'a', ',', 'b', '\n', '1', ',', (byte) 0xe9, '\n', '2', ',', 'y', '\n'});
    byte[] late = new byte[9_000];
    Arrays.fill(late, (byte) 'x');
    late[0] = 'a';
    late[1] = ',';
    late[2] = 'b';
    late[3] = '\n';
    late[1_000] = ',';
    late[5_000] = 0;
    bytes("nul.csv", late);
    load(
        0,
        "mixed.csv  read 3 = loaded 3",
        "bad.csv  read 2 = loaded 1 + duplicate 0 + rejected 1",
        "nul.csv  read 1 = loaded 0 + duplicate 0 + rejected 1");
    assertEquals(4, rows());
  }

  @Test
  void impossiblePatternsAndUnknownColumnsAreFoundBeforeReading() throws Exception {
    text("a.csv", "d,n\n2026-03-02,1\n");
    feed(
        "*.csv", "{ kind: delimited }", "d: { type: date, pattern: \"dd/QQ/yyyy\" }", "n: integer");
    Run quarter = dusky.run("load").expect(3);
    assertTrue(quarter.all().contains("does not describe a complete date"), quarter.all());
    feed("*.csv", "{ kind: delimited }", "d: { type: date, pattern: dd/MM/yy }", "n: integer");
    Run year = dusky.run("load").expect(3);
    assertTrue(year.all().contains("has a year of two digits"), year.all());
    feed("*.csv", "{ kind: delimited }", "d: date", "n: { type: integer, check: upper(n) = 'X' }");
    Run type = dusky.run("load").expect(3);
    assertTrue(type.all().contains("upper(integer) does not exist"), type.all());
    feed(
        "*.csv",
        "{ kind: delimited }",
        "d: date",
        "n: { type: integer, value: cast(m as integer) }");
    load(1, "lacks columns that feed f needs: 'm' not found");
  }
}
