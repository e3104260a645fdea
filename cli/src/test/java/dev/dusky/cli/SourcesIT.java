package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The built program brings rows of a real server into a depot and from there into a table. */
class SourcesIT extends ProcessTesting {

  private static final int ROWS = 3_000;

  private void sql(String... statements) throws Exception {
    try (Connection connection = connect(database);
        Statement statement = connection.createStatement()) {
      for (String each : statements) {
        statement.execute(each);
      }
    }
  }

  @BeforeEach
  void makeCustomers() throws Exception {
    sql(
        "create table customer (id bigint, name varchar(40), credit numeric(12,2),"
            + " updated_at timestamptz)",
        "insert into customer select n, 'Farm ' || n, n * 1.25,"
            + " timestamptz '2026-03-01 06:00:00+00' + n * interval '1 minute'"
            + " from generate_series(1, "
            + ROWS
            + ") n");
    dusky = Program.within(folder).file("dusky.yaml", taking("select * from customer"));
  }

  private String taking(String query) {
    return """
    warehouse: jdbc:h2:file:./warehouse
    depots: { yard: "file:yard" }
    sources:
      customers:
        at: "jdbc:postgresql://localhost:%d/%s"
        user: postgres
        query: %s
        newer: updated_at
        overlap: 10 min
        slices: { by: id, number: 2 }
        as: customers/{n}.parquet
        roll: 8 kB
    feeds:
      customers:
        depot: yard
        files: "customers/*.parquet"
        layout: { kind: parquet }
        into: intake.customer
        create: true
        totals: [credit]
        repeats: { key: [id, updated_at], scope: table }
        columns:
          id: bigint not null
          name: varchar(40)
          credit: decimal(12,2)
          updated_at: timestamp with time zone
    """
        .formatted(server.getPort(), database, query);
  }

  private long loaded() throws Exception {
    dusky.run("load").expect(0);
    dusky.run("balance").expect(0);
    String out =
        dusky
            .run(
                "sql",
                "--json",
                "select count(*) as n from (select distinct id, name, credit, updated_at"
                    + " from intake.customer)")
            .expect(0)
            .out();
    return Long.parseLong(out.replaceAll("\\D", ""));
  }

  private boolean any(String under, String ending) {
    Path in = folder.resolve(under);
    if (!Files.exists(in)) {
      return false;
    }
    try (Stream<Path> files = Files.walk(in)) {
      return files.anyMatch(file -> file.toString().endsWith(ending));
    } catch (IOException | java.io.UncheckedIOException e) {
      return false; // it changes while it is looked at
    }
  }

  @Test
  void whatIsNewComesByTheManifestAndIsLoadedOnce() throws Exception {
    Run first = dusky.run("stage", "yard", "source:customers").expect(0);
    assertTrue(first.out().contains("customers  3 000 rows in "), first.out());
    String manifest = first.out().replaceAll("(?s).*manifest at (\\S+)\\s.*", "$1");
    Run load = dusky.run("load", "--manifest", manifest).expect(0);
    assertTrue(load.out().contains("read 3 000 = loaded 3 000"), load.out());
    sql(
        "update customer set credit = 0, updated_at = timestamptz '2026-03-05 00:00:00+00'"
            + " where id <= 5",
        "insert into customer values (9000, 'Late', 1, timestamptz '2026-03-03 07:55:00+00')");
    Run next = dusky.run("stage", "yard", "source:customers").expect(0);
    assertTrue(next.out().contains("from 2026-03-03T07:50Z"), next.out());
    assertEquals(ROWS + 6, loaded());
    Run none = dusky.run("stage", "yard", "source:customers", "--json").expect(0);
    none = dusky.run("stage", "yard", "source:customers").expect(0);
    assertTrue(none.out().contains("nothing new"), none.out());
  }

  /** Starts the program, kills it once something can be seen, and returns. */
  private void killOnce(BooleanSupplier seen) throws Exception {
    Process process = dusky.start("stage", "yard", "source:customers");
    while (process.isAlive() && !seen.getAsBoolean()) {
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroyForcibly().waitFor();
  }

  @Test
  void killedAtAnyMomentNothingIsMissingAndNothingIsThereTwice() throws Exception {
    String spool = ".dusky-spool/source-customers";
    killOnce(() -> any(spool, ".rows"));
    assertFalse(any("yard", ".parquet") && !any(spool, "run.properties"), "nothing half is seen");
    killOnce(() -> any(spool, "run.properties"));
    killOnce(() -> any("yard/customers", ".parquet"));
    killOnce(() -> any("yard/manifests", ".json"));
    dusky.run("stage", "yard", "source:customers").expect(0);
    dusky.run("stage", "yard", "source:customers").expect(0);
    assertEquals(ROWS, loaded());
    String files =
        dusky
            .run("sql", "--json", "select sum(row_count) as n from dusky.source_run")
            .expect(0)
            .out();
    long staged = Long.parseLong(files.replaceAll("\\D", ""));
    assertTrue(staged >= ROWS && staged <= ROWS + 3 * 11, "only the overlap came again: " + staged);
  }

  /** Whether a query sleeps on the server. */
  private boolean sleeps() throws Exception {
    return ask("select count(*) from pg_stat_activity where wait_event = 'PgSleep'") > 0;
  }

  @Test
  void aLostConnectionStagesNothingAndTwoDoNotStageAtOnce() throws Exception {
    dusky.file(
        "dusky.yaml",
        taking("select c.* from customer c, lateral (select pg_sleep(60) where c.id = 2900) z")
            .replace("    slices: { by: id, number: 2 }\n", ""));
    Process process = dusky.start("stage", "yard", "source:customers");
    while (!sleeps()) {
      assertTrue(process.isAlive(), "it ended");
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    Run second =
        new Program(folder)
            .file("other.yaml", taking("select * from customer").replace("./warehouse", "./second"))
            .run("stage", "--config", "other.yaml", "yard", "source:customers")
            .expect(2);
    assertTrue(second.err().contains("is being staged already"), second.err());
    sql("select pg_terminate_backend(pid) from pg_stat_activity where wait_event = 'PgSleep'");
    assertEquals(4, process.waitFor());
    assertFalse(any("yard", ".parquet"));
    dusky.file("dusky.yaml", taking("select * from customer"));
    dusky.run("stage", "yard", "source:customers").expect(0);
    assertEquals(ROWS, loaded());
  }

  @Test
  void aDriverComesFromItsJar() throws Exception {
    Path jar = folder.resolve("driver.jar");
    String name = MadeUpDriver.class.getName().replace('.', '/') + ".class";
    try (OutputStream out = Files.newOutputStream(jar);
        JarOutputStream entries = new JarOutputStream(out)) {
      entries.putNextEntry(new JarEntry(name));
      entries.write(MadeUpDriver.class.getClassLoader().getResourceAsStream(name).readAllBytes());
      entries.putNextEntry(new JarEntry("META-INF/services/java.sql.Driver"));
      entries.write(MadeUpDriver.class.getName().getBytes());
    }
    String url = "jdbc:madeup:h2:mem:";
    Program other = new Program(folder);
    other.file(
        "made.yaml",
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { yard: "file:yard" }
        sources:
          made: { at: "%s", query: "select x as id from system_range(1, 5)", driver: driver.jar, as: "made/{n}.jsonl" }
          none: { at: "%s", query: "select 1 as id", as: "none/{n}.jsonl" }
          gone: { at: "%s", query: "select 1 as id", driver: gone.jar, as: "gone/{n}.jsonl" }
          wrong: { at: "jdbc:other:", query: "select 1 as id", driver: driver.jar, as: "wrong/{n}.jsonl" }
        """
            .formatted(url, url, url));
    other.run("stage", "--config", "made.yaml", "yard", "source:made").expect(0);
    assertEquals("{\"id\":1}", Files.readAllLines(folder.resolve("yard/made/000001.jsonl")).get(0));
    Run none = other.run("stage", "--config", "made.yaml", "yard", "source:none").expect(4);
    assertTrue(none.err().contains("Name the jar of its JDBC driver"), none.err());
    other.run("stage", "--config", "made.yaml", "yard", "source:gone").expect(3);
    other.run("stage", "--config", "made.yaml", "yard", "source:wrong").expect(3);
  }

  @Test
  void whatASourceCannotBeIsToldWithItsLine() throws Exception {
    dusky.file(
        "dusky.yaml",
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { yard: "file:yard" }
        sources:
          a: { at: "postgresql://x", query: "select 1", as: "a/{n}.csv" }
          b: { at: "jdbc:h2:mem:x;PASSWORD=y", query: "select 1", as: "a/b.jsonl", roll: much }
          c: { at: "jdbc:h2:mem:x", overlap: long }
          d: { at: "jdbc:h2:mem:x", query: "select 1", slices: { by: id, number: 1 }, manifset: x }
        """);
    String told = dusky.run("stage", "yard", "source:a").expect(3).err();
    for (String part :
        new String[] {
          "line 4: at must be a JDBC URL",
          "line 4: 'a/{n}.csv' does not say what files are made",
          "line 5: user and password do not belong in the URL",
          "line 5: 'a/b.jsonl' must have {n}",
          "line 5: roll cannot be 'much'",
          "line 6: source c needs the key query",
          "line 6: overlap needs newer",
          "line 6: overlap cannot be 'long'",
          "line 7: number must be a whole number from 2 to 64",
          "the nearest known one is 'manifest'"
        }) {
      assertTrue(told.contains(part), part + " in " + told);
    }
  }
}
