package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.io.BufferedWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Repairs, manifests and trailers that are wrong in all the ways that people get them wrong. */
class BadRepairsIT {

  private static final String CONFIG =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./in" }
      feeds:
        dockets:
          depot: yard
          files: "dockets/*.csv"
          layout: delimited
          into: intake.docket
          create: true
          tolerance: any
          rejects-to: "yard:returned/"
          columns: { no: bigint not null, farm: varchar(8), day: { type: date, pattern: dd/MM/yyyy } }
        others:
          depot: yard
          files: "others/*.csv"
          layout: delimited
          into: intake.other
          create: true
          tolerance: any
          columns: { no: bigint not null }
      """;

  @TempDir static Path loaded;
  @TempDir Path folder;

  private Program program;

  /** Loads and exports once; each test has a copy of the folder. */
  @BeforeAll
  static void load() throws Exception {
    Program.within(loaded)
        .file("dusky.yaml", CONFIG)
        .file(
            "in/dockets/a.csv",
            "no,farm,day\n1,WF1,04/03/2026\nx2,Höf,04/03/2026\nx3,WF3,05/03/2026\n")
        .file("in/others/b.csv", "no\nx\n");
    for (String name : List.of("in/dockets/a.csv", "in/others/b.csv")) {
      // A whole second, which a copy keeps: the files must be the same versions in every folder.
      Files.setLastModifiedTime(loaded.resolve(name), FileTime.fromMillis(1_772_600_000_000L));
    }
    Program.within(loaded).run("load").expect(0);
    Program.within(loaded).run("rejects", "export", "dockets").expect(0);
  }

  @BeforeEach
  void copy() throws Exception {
    try (var files = Files.walk(loaded)) {
      for (Path file : files.toList()) {
        Path to = folder.resolve(loaded.relativize(file).toString());
        if (Files.isDirectory(file)) {
          Files.createDirectories(to);
        } else {
          Files.copy(file, to, StandardCopyOption.COPY_ATTRIBUTES);
        }
      }
    }
    program = Program.within(folder);
  }

  private Run mend(int code, String text) throws Exception {
    return mend(code, text.getBytes(StandardCharsets.UTF_8));
  }

  private Run mend(int code, byte[] text) throws Exception {
    Files.write(folder.resolve("fixed.csv"), text);
    return program.run("mend", "fixed.csv").expect(code);
  }

  private static void assertTold(Run run, String... parts) {
    for (String part : parts) {
      assertTrue(run.all().contains(part), () -> part + "\n---\n" + run.all());
    }
    assertFalse(run.all().contains("\tat "), run::all);
  }

  @Test
  void columnsThatWereRemovedAreMissed() throws Exception {
    assertTold(mend(1, "dusky_reject,no,farm\n1,2,WF2\n"), "still wrong reject 1", "day");
  }

  @Test
  void numbersThatWereChangedOrLostAreTold() throws Exception {
    Run run =
        mend(
            1,
            "dusky_reject,no,farm,day\n99,2,a,04/03/2026\n,3,b,04/03/2026\n3,4,c,04/03/2026\n"
                + "2,5,d,05/03/2026\n2,6,e,05/03/2026\n1,x,f,04/03/2026\n");
    assertTold(
        run,
        "line 2 has reject 99, which does not exist",
        "line 3 has no reject number",
        "line 4 has reject 3 of feed others, not of dockets",
        "line 6 has reject 2, which line 5 has too",
        "mended      reject 2");
    assertTold(program.run("balance").expect(0), "open 1 + mended 1", "the ledger balances");
  }

  @Test
  void aFileWithoutNumbersOrInAnotherFormIsToldAsSuch() throws Exception {
    assertTold(mend(1, "no,farm\nhello,there\n"), "has no reject numbers");
    assertTold(mend(1, "dusky_reject;no;farm;day\n1;2;a;04/03/2026\n"), "another delimiter", "','");
    assertTold(program.run("mend", "nowhere.csv").expect(2), "There is no file");
    assertTold(mend(1, "\0\0\0"), "has no reject numbers");
  }

  @Test
  void anotherEncodingOrFormOfDateStaysOpenWithItsReason() throws Exception {
    byte[] latin =
        "dusky_reject,no,farm,day\n1,2,Höf,04/03/2026\n2,3,WF3,3/5/26\n"
            .getBytes(StandardCharsets.ISO_8859_1);
    assertTold(mend(1, latin), "bad-encoding", "bad-date", "'3/5/26' does not have the form");
    byte[] marked =
        "\ufeff\"dusky_reject\",\"no\",\"farm\",\"day\"\r\n\"1\",\"2\",\"Höf\",\"04/03/2026\"\r\n"
            .getBytes(StandardCharsets.UTF_16LE);
    assertTold(mend(0, marked), "mended      reject 1");
    assertTold(program.run("sql", "select farm from intake.docket where no = 2").expect(0), "Höf");
  }

  @Test
  void rejectsAreDeliveredForTheirSenderAndCanBeMendedFromThere() throws Exception {
    Path delivered = folder.resolve("in/returned/dockets/a.csv.rejects.csv");
    String text = Files.readString(delivered);
    assertEquals("dusky_reject,no,farm,day\n1,x2,Höf,04/03/2026\n2,x3,WF3,05/03/2026\n", text);
    assertTold(mend(0, text.replace("x", "")), "mended      reject 1", "mended      reject 2");
  }

  @Test
  void whatIsSettledStaysAsItIs() throws Exception {
    program.run("rejects", "waive", "1", "--reason", "lost").expect(0);
    assertTold(
        mend(1, "dusky_reject,no,farm,day\n1,2,a,04/03/2026\n"), "reject 1, which was waived by");
    assertTold(program.run("rejects", "waive", "1", "--reason", "again").expect(1), "not open");
    assertTold(program.run("rejects", "waive", "2").expect(2), "--reason");
    assertTold(
        program.run("rejects", "waive", "2", "--reason", " ").expect(2), "must not be empty");
    assertTold(
        program.run("rejects", "waive", "dockets", "--reason", "x").expect(2),
        "every open reject of feed dockets");
    assertTold(program.run("rejects", "show", "77").expect(2), "There is no reject 77");
    assertTold(program.run("rejects", "--code", "odd").expect(2), "no reject code 'odd'");
    assertTold(
        program.run("rejects", "export", "dockets").expect(2), "exists already", "--replace");
    assertTold(
        program.run("rejects", "purge", "--settled-before", "soon").expect(2), "400d or 12h");
  }

  @Test
  void manifestsThatAreWrongLoadNothing() throws Exception {
    program.file("in/dockets/c.csv", "no,farm,day\n7,WF1,04/03/2026\n");
    String file = "{\"manifest\": 1, \"files\": [{\"path\": \"dockets/c.csv\", %s}]}";
    program.file("in/m.json", file.formatted("\"lines\": 1"));
    assertTold(
        program.run("load", "--manifest", "yard:m.json").expect(3), "unknown member 'lines'");
    program.file("in/m.json", file.formatted("\"sha256\": \"" + "0".repeat(64) + "\""));
    assertTold(
        program.run("load", "--manifest", "yard:m.json").expect(1),
        "the stored bytes have",
        "refused");
    program.file("in/m.json", file.formatted("\"rows\": 2"));
    assertTold(
        program.run("load", "--manifest", "yard:m.json").expect(1),
        "the manifest says 2 rows, the file has 1");
    program.file("in/m.json", "{\"manifest\": 1, \"files\": [{\"path\": \"../x\"}]}");
    assertTold(program.run("load", "--manifest", "yard:m.json").expect(3), "is outside the depot");
    program.file(
        "in/m.json",
        "{\"manifest\": 1, \"files\": [{\"path\": \"dockets/c.csv\"}, {\"path\": \"dockets/d.csv\"}]}");
    assertTold(
        program.run("load", "--manifest", "yard:m.json").expect(1),
        "Nothing was loaded",
        "dockets/d.csv");
    assertTold(
        program.run("load", "--manifest", "yard:n.json").expect(2), "no manifest yard:n.json");
    program.file(
        "in/m.json",
        "{\"manifest\": 1, \"files\": [{\"path\": \"dockets/c.csv\", \"rows\": 1}, {\"path\":"
            + " \"dockets/d.csv\", \"required\": false}]}");
    assertTold(
        program.run("load", "--manifest", "yard:m.json").expect(0),
        "optional file dockets/d.csv of the manifest is not there",
        "posted");
  }

  @Test
  void whatIsStagedCanBeLoadedByItsManifest() throws Exception {
    program.file("out/dockets/e.csv", "no,farm,day\n9,WF1,04/03/2026\n");
    program.run("stage", "yard", "out", "--manifest", "day.json").expect(0);
    assertTold(
        program.run("load", "--manifest", "yard:day.json").expect(0), "dockets/e.csv", "loaded 1");
  }

  @Test
  void manyRejectsInOneFileAreCountedInBoundedMemory() throws Exception {
    Path file = folder.resolve("in/others/many.csv");
    try (BufferedWriter out = Files.newBufferedWriter(file)) {
      out.write("no\n");
      for (int i = 0; i < 500_000; i++) {
        out.write(i % 100 == 0 ? "7\n" : "x\n");
      }
    }
    Run run = program.javaOptions("-Xmx64m").run("load", "others").expect(0);
    assertTold(run, "read 500 000 = loaded 5 000 + duplicate 0 + rejected 495 000");
    assertTold(program.run("balance", "others", "--no-depot").expect(0), "the ledger balances");
    assertEquals(
        "10001",
        program
            .run("sql", "select count(*) from dusky.reject_detail where feed = 'others'")
            .out()
            .lines()
            .skip(1)
            .findFirst()
            .orElseThrow()
            .strip());
  }
}
