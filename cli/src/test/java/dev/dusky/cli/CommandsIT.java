package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.workspace.Version;
import dev.dusky.cli.Program.Run;
import dev.dusky.cli.demo.Demo;
import dev.dusky.cli.demo.DemoFolder;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The commands of the built program on a directory depot and embedded H2. */
class CommandsIT {

  static final String CONFIG =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      layouts:
        csv: { kind: delimited, nulls: ["", "n/a"] }
        lines: { kind: delimited, delimiter: "|", header: false }
      feeds:
        collections:
          depot: yard
          files: "*.csv"
          layout: csv
          into: intake.collection
          create: true
          tolerance: 1
          columns:
            docket_no: bigint not null
            farm_code: varchar(8) not null
            collected_at: { type: timestamp, pattern: "dd/MM/yyyy HH:mm" }
            litres: decimal(9,1)
      """;
  static final String HEADER = "docket_no,farm_code,collected_at,litres\n";
  static final String GOOD =
      HEADER + "1,WF0001,02/03/2026 05:46,812.5\n2,WF0002,02/03/2026 05:51,n/a\n";

  @TempDir Path folder;
  private Program dusky;

  @BeforeEach
  void configure() throws IOException {
    Files.createDirectories(folder.resolve("intake"));
    dusky = Program.within(folder).file("dusky.yaml", CONFIG);
  }

  private static List<JsonNode> json(Run run) throws IOException {
    List<JsonNode> objects = new ArrayList<>();
    for (String line : run.out().lines().toList()) {
      objects.add(new ObjectMapper().readTree(line));
    }
    return objects;
  }

  @Test
  void aLoadPrintsABalancedTallyAndIsSafeToRepeat() throws Exception {
    dusky.file("intake/a.csv", GOOD).file("intake/b.csv", HEADER + "3,WF0003,31/02/2026 06:00,1\n");
    Run first = dusky.run("load").expect(0);
    assertTrue(
        Pattern.compile(
                "collections  read 3 = loaded 2 \\+ duplicate 0 \\+ rejected 1 \\+ filtered 0 +"
                    + "balanced   [0-9.]+ s   .*rows/s")
            .matcher(first.out())
            .find(),
        first.out());
    assertTrue(dusky.run("load").expect(0).out().contains("nothing to load; 2 files are settled"));
    String rows =
        dusky
            .run("sql", "select docket_no, farm_code, collected_at, litres from intake.collection")
            .expect(0)
            .out();
    assertTrue(rows.contains("WF0001     2026-03-02 05:46:00   812.5"), rows);
    assertTrue(dusky.run("balance").expect(0).out().contains("the ledger balances"));
  }

  @Test
  void machinesGetOneJsonObjectALine() throws Exception {
    dusky.file("intake/a.csv", GOOD).file("intake/b.csv", HEADER + "x,WF0003,02/03/2026 06:00,1\n");
    List<JsonNode> load = json(dusky.run("load", "--json").expect(0));
    assertEquals("file", load.get(0).get("event").asText());
    assertEquals(2, load.get(0).get("loaded").asLong());
    JsonNode total = load.get(2);
    assertEquals("load", total.get("event").asText());
    assertEquals(3, total.get("read").asLong());
    assertTrue(total.get("balanced").asBoolean());
    JsonNode file = json(dusky.run("files", "--json").expect(0)).get(1);
    assertEquals("posted", file.get("state").asText());
    List<JsonNode> rejects = json(dusky.run("rejects", "--list", "9", "--json").expect(0));
    assertEquals("bad-number", rejects.get(0).get("code").asText());
    assertEquals("x", rejects.get(1).get("value").asText());
    assertEquals(2, rejects.get(1).get("line").asLong());
    JsonNode journal = json(dusky.run("journal", "--json").expect(0)).get(0);
    assertEquals("done", journal.get("state").asText());
    JsonNode balance = json(dusky.run("balance", "--json").expect(0)).get(0);
    assertTrue(balance.get("agrees").asBoolean());
    JsonNode peek = json(dusky.run("peek", "collections", "--json").expect(0)).get(0);
    assertEquals("WF0001", peek.get("values").get("farm_code").asText());
    JsonNode sql = json(dusky.run("sql", "--json", "select 1 as one, 'a' as b").expect(0)).get(0);
    assertEquals("{\"one\":1,\"b\":\"a\"}", sql.toString());
    JsonNode probe = json(dusky.run("probe", "--json").expect(0)).get(0);
    assertEquals("passed", probe.get("verdict").asText());
  }

  @Test
  void stagingFilesAndPeekingWorkTogether() throws Exception {
    dusky.file("out/x/a.csv", GOOD).file("out/b.csv", "1|2|3\n");
    Run staged = dusky.run("stage", "yard", "out/x", "out/b.csv").expect(0);
    assertTrue(staged.out().contains("2 staged"), staged.out());
    assertTrue(dusky.run("stage", "yard", "out/x").expect(0).out().contains("1 there already"));
    dusky.file("out/x/a.csv", GOOD + "3,WF3,,\n");
    Run differing = dusky.run("stage", "yard", "out/x").expect(1);
    assertTrue(differing.out().contains("exists with other content"), differing.out());
    dusky.run("stage", "yard", "out/x", "--replace").expect(0);
    Run files = dusky.run("files", "collections", "--state", "waiting").expect(0);
    assertTrue(files.out().contains("2 files") && files.out().contains("2 waiting"), files.out());
    Run peek = dusky.run("peek", "collections", "a.csv", "-n", "1").expect(0);
    assertTrue(peek.out().contains("varchar(8)"), peek.out());
    assertTrue(peek.out().contains("WF0001") && !peek.out().contains("WF0002"), peek.out());
    Run other = dusky.run("peek", "collections", "b.csv", "--layout", "lines").expect(0);
    assertTrue(other.out().contains("field 3"), other.out());
  }

  @Test
  void stagedFilesAreAskedBeforeAnythingIsLoaded() throws Exception {
    dusky.file("intake/a.csv", GOOD + "x,WF0009,,\n").file("intake/b.csv", "no header at all\n");
    Run asked =
        dusky
            .run(
                "sql",
                "--json",
                "--staged",
                "select count(*) as n, max(c.farm_code) as last from collections c"
                    + " join collections d on c.docket_no = d.docket_no")
            .expect(0);
    assertEquals("{\"n\":2,\"last\":\"WF0002\"}", asked.out().strip());
    assertTrue(
        asked.err().contains("1 file: read 3 = loaded 2 + duplicate 0 + rejected 1"), asked.err());
    assertTrue(asked.err().contains("not read: b.csv: "), asked.err());
    Run files = dusky.run("files", "collections").expect(0);
    assertTrue(files.out().contains("2 waiting"), "nothing was loaded: " + files.out());
    StringBuilder many = new StringBuilder(HEADER);
    for (int i = 0; i < 100_000; i++) {
      many.append(i).append(",WF0001,,\n");
    }
    dusky.file("intake/a.csv", many.toString());
    Run some =
        dusky
            .run(
                "sql",
                "--json",
                "--staged",
                "--rows",
                "20",
                "select count(*) as n from collections")
            .expect(0);
    long read = json(some).get(0).get("n").asLong();
    assertTrue(read >= 20 && read < 100_000, read + " rows");
    assertTrue(some.err().contains("there may be more, see --rows"), some.err());
    for (String bad :
        List.of("delete from collections", "select 1", "-- x\ndrop table collections")) {
      dusky.run("sql", "--staged", bad).expect(2);
    }
    dusky.run("sql", "--staged", "--rows", "0", "select 1 from collections").expect(2);
    dusky.run("sql", "--staged", "select no_such from collections").expect(5);
  }

  @Test
  void peekMarksWhatALoadWouldReject() throws Exception {
    dusky.file("intake/a.csv", GOOD + "x,,02/03/2026 05:46,1\n");
    Run peek = dusky.run("peek", "collections").expect(0);
    assertTrue(peek.out().contains("record 3 (line 4) would be rejected"), peek.out());
    assertTrue(peek.out().contains("farm_code no value"), peek.out());
  }

  @Test
  void aRefusedFileEndsWithOneAndTheJournalKeepsIt() throws Exception {
    dusky.file("intake/a.csv", HEADER + "x,WF1,,\ny,WF2,,\n3,WF3,,\n");
    Run load = dusky.run("load").expect(1);
    assertTrue(
        load.out().contains("2 of 3 rows rejected (66.67%), 1 more than the tolerance of 1"),
        load.out());
    assertTrue(load.out().contains("it was not loaded"), load.out());
    Run rejects = dusky.run("rejects").expect(0);
    assertTrue(rejects.out().contains("a.csv:2") && rejects.out().contains("66.7%"), rejects.out());
    Run journal = dusky.run("journal", "--load", "1").expect(0);
    assertTrue(journal.out().contains("refused"), journal.out());
    Run again = dusky.run("load").expect(1);
    assertTrue(again.out().contains("load 2"), again.out());
    dusky.run("balance").expect(0);
  }

  @Test
  void balanceEndsWithSixWhenRowsVanish() throws Exception {
    dusky.file("intake/a.csv", GOOD);
    dusky.run("load").expect(0);
    dusky.run("sql", "delete from intake.collection where docket_no = 1").expect(0);
    Run balance = dusky.run("balance").expect(6);
    assertTrue(balance.out().contains("THE LEDGER DOES NOT BALANCE"), balance.out());
    assertTrue(balance.out().contains("a.csv of load 1: ledger 2, table 1"), balance.out());
  }

  @Test
  void initWritesAStarterAndNeverOverwrites() throws Exception {
    Run written = dusky.run("init", "--config", "new.yaml").expect(0);
    assertTrue(written.out().contains("new.yaml; edit it"), written.out());
    dusky.run("init", "--config", "new.yaml").expect(2);
    assertTrue(Files.readString(folder.resolve("new.yaml")).contains("feeds:"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "init", "demo", "probe", "stage", "files", "peek", "draft", "load", "rejects", "journal",
        "balance", "sql"
      })
  void everyCommandHasHelpWithExamples(String command) throws Exception {
    Run help = dusky.run(command, "--help").expect(0);
    assertTrue(help.out().contains("Usage: dusky " + command), help.out());
    String examples = help.out().substring(help.out().indexOf("Examples:"));
    assertTrue(examples.split("\n  dusky " + command, -1).length > 2, examples);
    assertTrue(help.out().contains("--json") && help.out().contains("--debug"), help.out());
  }

  @Test
  void theVersionIsThatOfTheBuild() throws Exception {
    assertEquals("dusky " + Version.NUMBER, dusky.run("--version").expect(0).out().strip());
    String pom = Files.readString(Path.of("pom.xml"));
    assertTrue(pom.contains("<version>" + Version.NUMBER + "</version>"));
    assertTrue(dusky.run().expect(0).out().contains("Commands:"));
  }

  @Test
  void theTourIsShortAndItsLastCommandsWorkAsPrinted() throws Exception {
    Program program = new Program(folder).env("DUSKY_COMMAND", "./dusky");
    Run tour = program.run("demo").expect(0);
    List<String> lines = tour.out().lines().toList();
    assertTrue(lines.size() <= 180, () -> lines.size() + " lines");
    assertEquals("", tour.err());
    for (String part :
        List.of(
            "18 staged",
            "fleet-2026-03-01.txt  read as fixed",
            "wrote 6 feeds into dusky.yaml",
            "read 24 613 = loaded 22 618 + duplicate 1 979 + rejected 16 + filtered 0   balanced",
            "collections  mended  read 2 = loaded 2",
            "twin      collections/2026-03-02/10_resent.csv.gz",
            "load 9: files 1 posted, 1 twin, 12 settled before",
            "rejected  1  unknown-key farm_id",
            "WF0007     New Amber Orchard",
            "history  agrees",
            "the ledger balances")) {
      assertTrue(tour.out().contains(part), () -> part + " is missing in\n" + tour.out());
    }
    List<String> commands =
        lines.stream().filter(l -> l.startsWith("  ./dusky ")).map(l -> l.substring(10)).toList();
    assertEquals(7, commands.size(), commands::toString);
    assertTrue(commands.contains("demo --serve dusky-demo"), commands::toString);
    try (StandIn store = Demo.serve(new DemoFolder(folder.resolve("dusky-demo")))) {
      for (String command : commands) {
        if (!command.startsWith("demo")) {
          String words = command.replace(" --directory dusky-demo", "");
          Program.within(folder.resolve("dusky-demo")).run(words(words)).expect(0);
        }
      }
    }
  }

  private static String[] words(String command) {
    return Pattern.compile("\"([^\"]*)\"|(\\S+)")
        .matcher(command)
        .results()
        .map(m -> m.group(1) != null ? m.group(1) : m.group(2))
        .toArray(String[]::new);
  }
}
