package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.cli.Program.Run;
import dev.dusky.cli.demo.WrenfoldData;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Looking first: peek and draft of the built program, on the cooperative's files of every kind. */
class LookingIT {

  private static final String CONFIG =
      """
      # mine
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      """;

  @TempDir Path folder;
  private Program dusky;

  @BeforeEach
  void configure() throws IOException {
    dusky = Program.within(folder).file("dusky.yaml", CONFIG);
    new WrenfoldData(11, 400).write(folder.resolve("intake"), folder.resolve("late"));
  }

  private static List<JsonNode> json(Run run) throws IOException {
    List<JsonNode> objects = new ArrayList<>();
    for (String line : run.out().lines().toList()) {
      objects.add(new ObjectMapper().readTree(line));
    }
    return objects;
  }

  private long count(String table) throws Exception {
    Run run = dusky.run("sql", "--json", "select count(*) as n from intake." + table).expect(0);
    return json(run).get(0).get("n").asLong();
  }

  private void contains(Run run, String... texts) {
    for (String text : texts) {
      assertTrue(run.all().contains(text), () -> text + " is missing in\n" + run.all());
    }
  }

  @Test
  void everySourceIsDraftedAndLoadsWithoutAnEdit() throws Exception {
    Run draft = dusky.run("draft", "yard:", "--create").expect(0);
    contains(draft, "wrote 7 feeds into dusky.yaml", "created table intake.tankers");
    assertTrue(Files.readString(folder.resolve("dusky.yaml")).startsWith("# mine\n"));
    Run load = dusky.run("load").expect(0);
    assertFalse(load.out().contains("refused"), load.out());
    assertEquals(24, count("tankers"));
    assertEquals(380, count("farms"));
    assertEquals(5, count("prices"));
    assertEquals(130, count("prices_history"));
    assertEquals(1_800, count("assays"));
    assertTrue(count("assays_results") > 4_000);
    assertTrue(count("collections") > 4_000);
    dusky.run("balance").expect(0);
    Run sums =
        dusky
            .run(
                "sql",
                "--json",
                "select min(in_service) as d, max(capacity) as c from intake.tankers")
            .expect(0);
    assertTrue(json(sums).get(0).get("d").asText().matches("20\\d\\d-\\d\\d-\\d\\d"), sums.out());
    Run again = dusky.run("draft", "yard:").expect(0);
    contains(again, "feed collections exists already");
  }

  @Test
  void aDraftShowsItsEvidence() throws Exception {
    Run run = dusky.run("draft", "yard:farms/").expect(0);
    contains(
        run,
        "feed farms",
        "iso-8859-1",
        "delimiter",
        "member_since",
        "yyyyMMdd",
        "create table \"intake\".\"farms\"",
        "wrote 1 feed into dusky.yaml");
    JsonNode assays =
        json(dusky.run("draft", "yard:assays/", "--print", "--json").expect(0)).get(0);
    assertEquals("assays", assays.get("feed").asText());
    assertEquals("$.sample", assays.get("paths").get(0).get("path").asText());
    assertEquals("sample_id", assays.get("keys").get(0).asText());
    assertFalse(Files.readString(folder.resolve("dusky.yaml")).contains("assays"));
  }

  @Test
  void hintsAndNamesAreFollowed() throws Exception {
    Run run =
        dusky
            .run(
                "draft",
                "yard:tankers/",
                "--name",
                "fleet",
                "--schema",
                "yard_data",
                "--column",
                "plate=varchar(40) not null")
            .expect(0);
    contains(run, "create table \"yard_data\".\"fleet\"", "\"plate\" varchar(40) not null");
    assertTrue(Files.readString(folder.resolve("dusky.yaml")).contains("into: yard_data.fleet"));
    assertTrue(run.out().lines().anyMatch("  \"plate\" varchar(40) not null,"::equals), run.out());
    contains(
        dusky.run("draft", "yard:tankers/", "--name", "fleet").expect(2),
        "There is a feed 'fleet' already");
    contains(
        dusky.run("draft", "yard:tankers/").expect(0),
        "feed fleet already reads tankers/fleet-2026-03-01.txt");
    contains(
        dusky.run("draft", "yard:tankers/", "--print").expect(0),
        "create table \"intake\".\"tankers\"");
    contains(dusky.run("draft", "yard:none/").expect(2), "has no files at 'none/'");
    contains(dusky.run("draft", "farms").expect(2), "names no depot");
    contains(dusky.run("draft", "yard:", "--name", "x").expect(2), "The files are of");
    contains(
        dusky.run("draft", "yard:farms/", "--column", "a=bigit").expect(2), "is not a SQL type");
  }

  @Test
  void aFileAloneIsReadAsItWantsToBe() throws Exception {
    contains(
        dusky.run("peek", "yard:farms/registry-2026-03-01.txt", "-n", "2").expect(0),
        "read as delimited",
        "FARM",
        "MEMBER SINCE",
        "WF0001",
        "varchar(12)");
    contains(
        dusky.run("peek", "yard:tankers/fleet-2026-03-01.txt").expect(0), "read as fixed", "T10");
    contains(
        dusky.run("peek", "yard:prices/prices-2026-03.xlsx").expect(0),
        "read as workbook",
        "organic A",
        "Valid from");
    contains(
        dusky.run("peek", "yard:prices/prices-history.parquet", "--last", "-n", "1").expect(0),
        "read as parquet",
        "organic B",
        "130");
    contains(
        dusky.run("peek", "yard:assays/day=2026-03-02/assays.jsonl", "-n", "1").expect(0),
        "read as json",
        "sample_id");
  }

  @Test
  void recordsAreChosen() throws Exception {
    dusky.run("draft", "yard:collections/").expect(0);
    List<JsonNode> some =
        json(
            dusky
                .run(
                    "peek",
                    "collections",
                    "--where",
                    "litres > 8000 and tanker like 'T1%'",
                    "--columns",
                    "docket_no,litres",
                    "-n",
                    "3",
                    "--json")
                .expect(0));
    assertEquals(3, some.size());
    for (JsonNode record : some) {
      assertTrue(record.get("values").get("litres").asDouble() > 8_000);
      assertEquals(2, record.get("values").size());
    }
    List<JsonNode> random =
        json(
            dusky
                .run("peek", "collections", "--random", "--seed", "5", "-n", "4", "--json")
                .expect(0));
    assertEquals(
        random,
        json(
            dusky
                .run("peek", "collections", "--random", "--seed", "5", "-n", "4", "--json")
                .expect(0)));
    assertTrue(random.get(0).get("record").asLong() < random.get(3).get("record").asLong());
    JsonNode count = json(dusky.run("peek", "collections", "--count", "--json").expect(0)).get(0);
    long last =
        json(dusky.run("peek", "collections", "--last", "-n", "1", "--json").expect(0))
            .get(0)
            .get("record")
            .asLong();
    assertEquals(last, count.get("read").asLong());
    contains(
        dusky.run("peek", "collections", "--where", "liters > 3").expect(2),
        "there is no column 'liters'",
        "^");
    contains(
        dusky.run("peek", "collections", "--columns", "nope").expect(2),
        "There is no column 'nope'");
  }

  @Test
  void layoutOptionsAreTried() throws Exception {
    String file = "yard:farms/registry-2026-03-01.txt";
    contains(
        dusky.run("peek", file, "--with", "delimiter=;", "-n", "1").expect(0), "FARM|NAME|HERD");
    contains(
        dusky.run("peek", file, "--with", "header=false", "-n", "1").expect(0), "field 1", "FARM");
    contains(
        dusky
            .run(
                "peek",
                "yard:tankers/fleet-2026-03-01.txt",
                "--with",
                "kind=fixed",
                "--with",
                "widths={tanker: 7, plate: 9}",
                "-n",
                "2")
            .expect(0),
        "tanker",
        "plate",
        "TANKER");
    contains(
        dusky.run("peek", file, "--with", "delimeter=;").expect(2),
        "the nearest known one is 'delimiter'");
    contains(dusky.run("peek", file, "--last", "--random").expect(2), "cannot be combined");
  }

  @Test
  void bytesAreShownAsTheyAre() throws Exception {
    Files.write(
        folder.resolve("intake/odd.txt"),
        new byte[] {
          (byte) 0xef,
          (byte) 0xbb,
          (byte) 0xbf,
          'a',
          '\t',
          (byte) 0xc2,
          (byte) 0xa0,
          (byte) 0xe9,
          '\r',
          '\n',
          'b',
          0x07,
          '\n'
        });
    contains(
        dusky.run("peek", "yard:odd.txt", "--raw").expect(0),
        "<BOM>a\u2409<NBSP><E9>\u240d\u240a",
        "b\u2407\u240a");
    contains(
        dusky.run("peek", "yard:prices/prices-history.parquet", "--raw", "-n", "1").expect(0),
        "50 41 52 31");
  }

  private void workbook(String path, boolean title) throws IOException {
    Path file = folder.resolve(path);
    Files.createDirectories(file.getParent());
    try (OutputStream out = Files.newOutputStream(file);
        Workbook workbook = new Workbook(out, "test", "1.0")) {
      Worksheet sheet = workbook.newWorksheet("Farms");
      int row = 0;
      if (title) {
        sheet.value(row++, 0, "Milk of March");
      }
      sheet.value(row, 0, "farm");
      sheet.value(row, 2, "litres");
      sheet.value(row++, 3, "valid from");
      for (int i = 0; i < 30; i++) {
        sheet.value(row + i, 0, "WF%04d".formatted(i));
        sheet.value(row + i, 1, i % 2 == 0 ? "hill" : "valley");
        sheet.value(row + i, 2, i * 10.5);
        sheet.value(row + i, 3, i % 3);
        sheet.value(row + i, 4, "late remark " + i);
      }
      workbook.newWorksheet("Tankers").value(0, 0, "T01");
    }
  }

  @Test
  void workbooksAreDraftedWholeWithBlankCellsInTheirHeaders() throws Exception {
    for (boolean title : new boolean[] {false, true}) {
      String name = title ? "titled" : "plain";
      workbook("intake/" + name + "/a.xlsx", title);
      Run draft = dusky.run("draft", "yard:" + name + "/", "--create").expect(0);
      contains(draft, "? beside", "Tankers");
      assertEquals(title, draft.out().contains("? range"), draft.out());
      dusky.run("load", name).expect(0);
      Run rows =
          dusky
              .run("sql", "--json", "select * from intake.%s order by farm".formatted(name))
              .expect(0);
      JsonNode first = json(rows).get(0);
      assertEquals(30, json(rows).size());
      assertEquals("WF0000", first.get("farm").asText());
      assertEquals("hill", first.get("field_2").asText());
      assertEquals("late remark 0", first.get("field_5").asText());
    }
  }

  @Test
  void cellsBesideTheColumnsOfAWorkbookAreNotLostSilently() throws Exception {
    workbook("intake/beside/a.xlsx", false);
    String feed =
        """
        feeds:
          beside:
            depot: yard
            files: beside/*.xlsx
            layout: LAYOUT
            into: intake.beside
            create: true
            tolerance: any
            ignore: ["2", valid from]
            columns: { farm: varchar(8), litres: "decimal(9,1)" }
        """;
    dusky.file("dusky.yaml", CONFIG + feed.replace("LAYOUT", "workbook"));
    contains(dusky.run("load", "beside").expect(0), "rejected 30");
    contains(dusky.run("rejects", "beside").expect(0), "too-many-fields");
    String layouts = "layouts: { left: { kind: workbook, range: \"A2:D\" } }\n";
    dusky.file("dusky.yaml", CONFIG + layouts + feed.replace("LAYOUT", "left"));
    workbook("intake/beside/b.xlsx", true);
    contains(dusky.run("load", "beside").expect(0), "loaded 30");
  }

  @Test
  void wideTablesAreFolded() throws Exception {
    StringBuilder text = new StringBuilder();
    for (int row = -1; row < 3; row++) {
      for (int c = 0; c < 40; c++) {
        text.append(c == 0 ? "" : ",").append(row < 0 ? "column_" + c : "value " + row + "/" + c);
      }
      text.append('\n');
    }
    dusky.file("intake/wide.csv", text.toString());
    Run run = dusky.env("COLUMNS", "80").env("DUSKY_TERMINAL", "out").run("peek", "yard:wide.csv");
    run.expect(0);
    contains(run, "column_0", "column_39", "value 2/39");
    for (String line : run.out().lines().skip(1).toList()) {
      String bare = line.replaceAll("\u001b\\[[0-9;]*m", "");
      assertTrue(bare.length() <= 80, bare);
    }
  }

  @Test
  void everyRejectIsCountedHoweverMany() throws Exception {
    StringBuilder text = new StringBuilder("n\n");
    for (int i = 0; i < 30_000; i++) {
      text.append(i % 3 == 0 ? Integer.toString(i) : "x").append('\n');
    }
    dusky.file("many/a.csv", text.toString());
    dusky.file(
        "dusky.yaml",
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { here: "file:many" }
        layouts: { plain: { kind: delimited } }
        feeds:
          many: { depot: here, files: "*.csv", layout: plain, into: x.many, columns: { n: integer } }
        """);
    contains(
        dusky.run("peek", "many", "--count").expect(0), "10 000 would be loaded, 20 000 rejected");
    List<JsonNode> last = json(dusky.run("peek", "many", "--last", "-n", "2", "--json").expect(0));
    assertEquals(2, last.size());
    assertEquals(30_000, last.get(1).get("record").asLong());
    assertEquals(1, last.get(1).get("problems").size());
    List<JsonNode> chosen =
        json(
            dusky
                .run("peek", "many", "--last", "-n", "2", "--where", "n < 300", "--json")
                .expect(0));
    assertEquals(298, chosen.get(1).get("record").asLong());
    assertEquals("294", chosen.get(0).get("values").get("n").asText());
  }
}
