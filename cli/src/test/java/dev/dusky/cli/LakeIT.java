package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.standin.Faults;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The built program on tables in an object store, with its ledger in H2. */
class LakeIT {

  private static final String FEED =
      """
      feeds:
        milk:
          depot: yard
          files: "in/*.csv"
          layout: { kind: delimited }
          into: intake.milk
          create: true
          tolerance: 1
          totals: [litres]
          columns: { no: bigint not null, litres: "decimal(9,1)" }
      """;

  @TempDir Path folder;

  private static String config(String warehouse, String endpoint) {
    return """
        warehouse: %s
        depots:
          yard: { at: "s3://dairy", endpoint: "%s", access-key: file:key, secret-key: file:secret }
        """
            .formatted(warehouse, endpoint)
        + FEED;
  }

  private StandIn store() throws IOException {
    Path buckets = Files.createDirectories(folder.resolve("buckets"));
    Files.createDirectories(buckets.resolve("dairy"));
    return StandIn.start(buckets, "key", "secret", 0);
  }

  private Program onStore(StandIn store) throws IOException {
    return Program.within(folder)
        .file("key", "key")
        .file("secret", "secret")
        .file(
            "dusky.yaml",
            config(
                "{ tables: \"s3://dairy/tables\", ledger: \"jdbc:h2:file:./ledger\" }",
                store.endpoint()));
  }

  @Test
  void aDayOnTablesInAnObjectStore() throws Exception {
    try (StandIn store = store()) {
      Program dusky =
          onStore(store)
              .file("out/a.csv", "no,litres\n1,2.5\n2,x\n3,4\n")
              .file("out/b.csv", "no,litres\n7,2.5\n");
      dusky.run("stage", "yard", "out", "--under", "in").expect(0);
      assertTrue(dusky.run("rehearse").expect(0).out().contains("read 4 = loaded 3"));
      assertTrue(dusky.run("load").expect(0).out().contains("rejected 1"));
      assertTrue(dusky.run("load").expect(0).out().contains("nothing to load"));
      String proof = dusky.run("balance").expect(0).out();
      assertTrue(proof.contains("ledger 3, table 3"), proof);
      assertTrue(proof.contains("litres: ledger 9, table 9"), proof);
      dusky.run("rejects", "export", "milk").expect(0);
      Path fix = folder.resolve("milk-rejects.csv");
      Files.writeString(fix, Files.readString(fix).replace("2,x", "2,8"));
      dusky.run("mend", fix.toString()).expect(0);
      assertTrue(dusky.run("balance").expect(0).out().contains("litres: ledger 17, table 17"));
      String reversed = dusky.run("reverse", "in/b.csv", "--reason", "a test").expect(0).out();
      assertTrue(reversed.contains("1 row removed"), reversed);
      assertTrue(dusky.run("balance").expect(0).out().contains("(2 loaded + 1 mended), table 3"));
      assertTrue(dusky.run("tidy").expect(0).out().contains("nothing to tidy"));
      assertTrue(dusky.run("tidy", "--older", "5 min").expect(2).err().contains("an hour"));
      String sql = dusky.run("sql", "select count(*) from intake.milk").expect(3).err();
      assertTrue(sql.contains("needs an engine"), sql);
      assertTrue(dusky.run("load", "--on", "moon").expect(2).err().contains("--on engine"));
      String on = dusky.run("load", "--on", "engine").expect(3).err();
      assertTrue(
          on.contains("Reading files on an engine for tables in object storage needs an engine"),
          on);
      dusky.run("load", "--again", "in/a.csv").expect(0);
      dusky.run("load").expect(0);
      dusky.run("balance").expect(0);
      assertEquals(3, dusky.run("merge").code());
      assertTrue(dusky.run("report").expect(0).out().contains("report.html"));
    }
  }

  @Test
  void aStoreThatTakesNoFilesIsNamedAndNothingIsPosted() throws Exception {
    try (StandIn store = store()) {
      Program dusky = onStore(store).file("out/a.csv", "no,litres\n1,2.5\n");
      dusky.run("stage", "yard", "out", "--under", "in").expect(0);
      store.faults().deny(Faults.Right.WRITE);
      denied(dusky.run("load"));
      denied(dusky.run("probe", "warehouse"));
      store.faults().clear();
      dusky.run("load").expect(0);
      dusky.file("out/b.csv", "no,litres\n2,2.5\n");
      dusky.run("stage", "yard", "out", "--under", "in").expect(0);
      store.faults().deny(Faults.Right.WRITE);
      denied(dusky.run("load"));
      store.faults().clear();
      dusky.run("load").expect(0);
      dusky.run("balance").expect(0);
    }
  }

  private static void denied(Program.Run run) {
    assertTrue(run.code() > 0, run.all());
    assertTrue(run.all().contains("denies the right to write files"), run.all());
    assertTrue(run.all().contains("s3:PutObject"), run.all());
    assertFalse(run.all().contains("Exception"), run.all());
  }

  @Test
  void whatSuchTablesDoNotHaveIsAnErrorOfTheConfiguration() throws Exception {
    String lake = "{ tables: \"file:./tables\", ledger: \"jdbc:h2:file:./ledger\" }";
    for (List<String> wrong :
        List.of(
            List.of("create: true", "create: true\n    partition: [day(no)]", "does not apply"),
            List.of("decimal(9,1)", "decimal(40,1)", "38 digits"),
            List.of("file:./tables\"", "file:./tables\", engine: near", "place for an engine"),
            List.of("file:./tables", "s3://elsewhere/x", "below no depot"),
            List.of("ledger:", "url:", "ledger"),
            List.of("file:./tables", "ftp://x", "unknown kind"))) {
      String yaml = config(lake, "http://127.0.0.1:1").replace(wrong.get(0), wrong.get(1));
      String said = Program.within(folder).file("dusky.yaml", yaml).run("load").expect(3).err();
      assertTrue(said.contains(wrong.get(2)), said);
    }
    assertFalse(Files.exists(folder.resolve("tables")));
  }
}
