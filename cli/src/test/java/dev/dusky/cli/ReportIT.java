package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.cli.Program.Run;
import dev.dusky.standin.StandIn;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Reports and missing files by the built program. */
class ReportIT {

  private static final String CONFIG =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./intake" }
      layouts: { plain: { kind: delimited } }
      feeds:
        dockets:
          depot: yard
          files: "dockets/{day:date}-*.csv"
          layout: plain
          into: intake.docket
          create: true
          tolerance: 1
          totals: [litres]
          expect: { arrivals: { every: day, by: "06:00", files: 2, from: %s } }
          columns: { docket_no: bigint not null, litres: "decimal(9,1)" }
        strict:
          depot: yard
          files: "strict/*.csv"
          layout: plain
          into: intake.strict
          create: true
          columns: { docket_no: bigint not null }
      """;

  @TempDir Path folder;

  private static JsonNode figures(String page) throws Exception {
    Matcher data = Pattern.compile("id=\"figures\">(.*?)</script>", Pattern.DOTALL).matcher(page);
    assertTrue(data.find());
    return new ObjectMapper().readTree(data.group(1));
  }

  private static long sum(JsonNode figures, String field) {
    long sum = 0;
    for (JsonNode value : figures.path("daily").path(field)) {
      sum += value.asLong();
    }
    return sum;
  }

  private static long asked(Program dusky, String sql) throws Exception {
    String out = dusky.run("sql", "--json", sql).expect(0).out();
    return new ObjectMapper().readTree(out).path("n").asLong();
  }

  @Test
  void theNumbersOfThePageAreThoseOfTheLedger() throws Exception {
    LocalDate today = LocalDate.now(ZoneOffset.UTC);
    LocalDate before = today.minusDays(3);
    String hostile = "dockets/%s-<img src=x>&'.csv".formatted(today);
    Program dusky =
        Program.within(folder)
            .file("dusky.yaml", CONFIG.formatted(before))
            .file("intake/dockets/%s-a.csv".formatted(before), "docket_no,litres\n1,5\n2,6\n")
            .file("intake/dockets/%s-b.csv".formatted(before), "docket_no,litres\n3,5\nx,6\n")
            .file("intake/" + hostile, "docket_no,litres\n4,5\n")
            .file("intake/strict/a.csv", "docket_no\n1\n<b>x\n");
    Path late = folder.resolve("intake/dockets/%s-b.csv".formatted(before));
    Files.setLastModifiedTime(late, FileTime.from(before.atTime(7, 0).toInstant(ZoneOffset.UTC)));
    Files.setLastModifiedTime(
        folder.resolve("intake/dockets/%s-a.csv".formatted(before)),
        FileTime.from(before.atTime(5, 0).toInstant(ZoneOffset.UTC)));
    dusky.run("load").expect(1);
    Run made = dusky.run("report", "--json", "--to", "day.html").expect(0);
    JsonNode said = new ObjectMapper().readTree(made.out());
    assertEquals(4, said.path("entries").asInt());
    String page = Files.readString(folder.resolve("day.html"));
    JsonNode figures = figures(page);
    assertEquals(
        asked(dusky, "select sum(loaded_rows) as n from dusky.tally where state = 'posted'"),
        sum(figures, "loaded"));
    assertEquals(
        asked(dusky, "select sum(read_rows) as n from dusky.tally where state = 'posted'"),
        sum(figures, "read"));
    assertEquals(
        asked(dusky, "select sum(stored_bytes) as n from dusky.tally where state = 'posted'"),
        sum(figures, "bytes"));
    assertEquals(1, sum(figures, "refused"));
    assertFalse(page.contains("<img"), "a file's name stays text");
    assertTrue(page.contains("-&lt;img src"), "it is there");
    assertTrue(
        page.replaceAll("<[^>]*>", " ")
            .replaceAll("\\s+", " ")
            .contains("dockets litres agrees 21 21"),
        "the sum of litres is 21");
    assertFalse(page.contains("{number="), "a row shows its own figures only");
    String needs = said.path("needs").toString();
    assertTrue(needs.contains("dusky files strict --state refused"), needs);
    assertTrue(needs.contains("dusky files dockets --missing"), needs);
    assertTrue(needs.contains("dusky rejects dockets"), needs);

    String missing = dusky.run("files", "--missing").expect(0).all();
    assertTrue(missing.matches("(?s).*%s +late +2 +2 +1.*".formatted(before)), missing);
    String next = before.plusDays(1).toString();
    assertTrue(missing.matches("(?s).*%s +missing +2 +0.*".formatted(next)), missing);
    boolean due = Instant.now().isAfter(today.atTime(6, 0).toInstant(ZoneOffset.UTC));
    String last = today + (due ? " +missing" : " +ahead") + " +2 +1";
    assertTrue(missing.matches("(?s).*" + last + ".*"), missing);
    String status = dusky.run("watch", "--status").expect(0).all();
    assertTrue(status.contains("lacks " + (due ? 5 : 4) + " files that should have come"), status);
  }

  @Test
  void whatCannotBeReportedIsSaid() throws Exception {
    Program dusky = Program.within(folder).file("dusky.yaml", CONFIG.formatted("2026-03-01"));
    assertTrue(dusky.run("report", "--since", "0d").expect(2).all().contains("at most 400d"));
    assertTrue(dusky.run("report", "--since", "401d").expect(2).all().contains("at most 400d"));
    assertTrue(dusky.run("report", "--zone", "Mars").expect(2).all().contains("not a time zone"));
    assertTrue(dusky.run("report", "docket").expect(2).all().contains("Did you mean 'dockets'?"));
    Files.createDirectories(folder.resolve("taken"));
    Run folderInTheWay = dusky.run("report", "--to", "taken");
    assertFalse(folderInTheWay.code() == 0, folderInTheWay.all());
    assertTrue(Files.isDirectory(folder.resolve("taken")), "it is still there");
    Run elsewhere = dusky.run("report", "--to", "none/such.html");
    assertTrue(elsewhere.all().contains("no such directory"), elsewhere.all());
    assertFalse(elsewhere.code() == 0, elsewhere.all());
    dusky.run("report", "--no-proof").expect(0);
    assertFalse(
        Files.readString(folder.resolve("report.html")).contains("h-proof"), "no proof is shown");
    try (var left = Files.list(folder)) {
      assertEquals(0, left.filter(p -> p.toString().endsWith(".part")).count(), "no part is left");
    }
  }

  /** Loads from an object store count requests and bytes; prices make costs of them. */
  @Test
  void whatLoadsUseIsRecordedAndPriced() throws Exception {
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "hush", 0)) {
      String file = "no,litres\n" + "1,5.5\n".repeat(2000);
      Program dusky =
          Program.within(folder)
              .file("yard.key", "key")
              .file("yard.secret", "hush")
              .file("out/a.csv", file)
              .file("out/b.csv", file + "2,6\n")
              .file(
                  "dusky.yaml",
                  """
                  warehouse: jdbc:h2:file:./warehouse
                  depots:
                    yard: { at: "s3://intake", endpoint: "%s", access-key: file:yard.key, secret-key: file:yard.secret }
                  feeds:
                    dockets:
                      depot: yard
                      files: "*.csv"
                      layout: { kind: delimited }
                      into: intake.docket
                      create: true
                      columns: { no: bigint, litres: "decimal(9,1)" }
                  merges:
                    docket: { from: intake.docket, into: dairy.docket, key: [no], create: true }
                  prices: { currency: EUR, per-1000: { list: 5, get: 0.4 }, per-gb: { in: 1 }, processor-hour: 3600 }
                  """
                      .formatted(store.endpoint()));
      dusky.run("stage", "yard", "out").expect(0);
      dusky.run("load").expect(0);
      dusky.run("load").expect(0);
      dusky.run("merge");
      String[] lines = dusky.run("journal", "--usage", "--json").expect(0).out().split("\n");
      JsonNode used = new ObjectMapper().readTree(lines[0]);
      assertEquals("dockets", used.path("feed").asText());
      assertEquals(1, used.path("runs").asInt(), "a load without files has no entry");
      assertEquals(2, used.path("files").asInt());
      assertEquals(4001, used.path("rows").asInt());
      assertEquals(1, used.path("list_requests").asInt());
      assertEquals(2, used.path("get_requests").asInt());
      long bytes = used.path("bytes_in").asLong();
      assertTrue(bytes >= 2 * file.length() && bytes < 3 * file.length(), used.toString());
      BigDecimal processor = BigDecimal.valueOf(used.path("processor_ms").asLong(), 3);
      assertTrue(processor.signum() > 0 && used.path("database_ms").asLong() > 0, used.toString());
      BigDecimal cost = new BigDecimal("0.0058").add(BigDecimal.valueOf(bytes, 9)).add(processor);
      assertEquals(0, cost.compareTo(new BigDecimal(used.path("cost").asText())), used.toString());
      assertEquals("docket", new ObjectMapper().readTree(lines[1]).path("merge").asText());
      String day = dusky.run("journal", "dockets", "--usage", "--by", "day").expect(0).out();
      assertTrue(day.contains(LocalDate.now(ZoneOffset.UTC) + "  dockets"), day);
      dusky.run("journal", "--usage", "--by", "hour").expect(2);
      dusky.run("journal", "--by", "day").expect(2);
    }
  }

  @Test
  void anUnusualFileIsFound() throws Exception {
    Program dusky =
        Program.within(folder)
            .file(
                "dusky.yaml",
                """
                warehouse: jdbc:h2:file:./warehouse
                depots: { yard: "file:./intake" }
                alerts: { to: { page: { command: [sh, -c, "cat >> told.txt"] } } }
                feeds:
                  dockets:
                    depot: yard
                    files: "*.csv"
                    layout: { kind: delimited }
                    into: intake.docket
                    create: true
                    expect: { volume: usual }
                    columns: { no: bigint }
                """);
    for (int file = 0; file < 10; file++) {
      dusky.file(
          "intake/%02d.csv".formatted(file),
          "no\n%d\n".formatted(file) + "1\n".repeat(99 + file % 3));
    }
    dusky.run("load").expect(0);
    assertTrue(dusky.run("files", "--unusual").expect(0).out().contains("No file of the last"));
    dusky.file("intake/10.csv", "no\n1\n2\n3\n").run("load").expect(0);
    String unusual = dusky.run("files", "--unusual").expect(0).out();
    assertTrue(unusual.contains("3 rows, usually 101"), unusual);
    assertTrue(Files.readString(folder.resolve("told.txt")).contains("10.csv: 3 rows, usually"));
    String said = dusky.run("report").expect(0).out();
    assertTrue(said.contains("dusky files dockets --unusual"), said);
    dusky.run("files", "--unusual", "--missing").expect(2);
    Path yaml = folder.resolve("dusky.yaml");
    String usual = Files.readString(yaml);
    Files.writeString(yaml, usual.replace("volume: usual", "volume: { refuse: 50%, nulls: [no] }"));
    dusky.file("intake/11.csv", "no\n4\n5\n");
    String refused = dusky.run("load").expect(1).out();
    assertTrue(refused.contains("unusual volume: 2 rows, usually 101, and this feed"), refused);
    dusky.run("load").expect(1);
    dusky.run("load", "--any-volume").expect(0);
    for (String wrong : List.of("odd", "{ refuse: half }", "{ nulls: [milk] }", "{ most: 3 }")) {
      Files.writeString(yaml, usual.replace("volume: usual", "volume: " + wrong));
      assertTrue(dusky.run("load").expect(3).err().contains("dusky.yaml cannot be followed: line"));
    }
  }
}
