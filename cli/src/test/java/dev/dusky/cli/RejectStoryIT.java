package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.cli.Program.Run;
import dev.dusky.cli.demo.WrenfoldFaults;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The whole life of rejects with the built program: found by a rehearsal, loaded around, exported,
 * edited, mended, waived, reversed, and the numbers agree at each step to the row.
 */
class RejectStoryIT {

  private static final List<String> FEEDS =
      List.of("deliveries", "weighings", "samples", "inspections", "tariffs");

  private static final ObjectMapper JSON = new ObjectMapper();

  @TempDir Path folder;

  private Program program;

  @Test
  void onH2() throws Exception {
    tell("warehouse: jdbc:h2:file:./warehouse\n");
  }

  @Test
  void onPostgres() throws Exception {
    try (EmbeddedPostgres server = EmbeddedPostgres.start()) {
      tell(
          "warehouse: { url: \"jdbc:postgresql://localhost:%d/postgres\", user: postgres }\n"
              .formatted(server.getPort()));
    }
  }

  private List<JsonNode> json(int code, String... args) throws Exception {
    List<String> all = new ArrayList<>(List.of(args));
    all.add("--json");
    Run run = program.run(all.toArray(String[]::new)).expect(code);
    List<JsonNode> objects = new ArrayList<>();
    for (String line : run.out().lines().toList()) {
      objects.add(JSON.readTree(line));
    }
    return objects;
  }

  private static String[] with(String first, List<String> rest) {
    List<String> all = new ArrayList<>(List.of(first));
    all.addAll(rest);
    return all.toArray(String[]::new);
  }

  private void prepare(String warehouse) throws Exception {
    program = Program.within(folder);
    String feeds =
        new String(WrenfoldFaults.class.getResourceAsStream("faults.yaml").readAllBytes());
    program.file("dusky.yaml", warehouse + "depots: { yard: \"file:./in\" }\nfeeds:\n" + feeds);
    new WrenfoldFaults().write(folder.resolve("in"));
    program.run("sql", "create schema dairy").expect(0);
    program.run("sql", "create table dairy.supplier (code varchar(6) primary key)").expect(0);
    program
        .run("sql", "insert into dairy.supplier values ('WF0001'), ('WF0002'), ('WF0003')")
        .expect(0);
    program
        .run(
            "sql",
            "create table dairy.delivery (docket_no bigint primary key,"
                + " farm_code varchar(6) not null references dairy.supplier, collected_at timestamp,"
                + " litres decimal(9,1), temperature decimal(4,1) constraint not_frozen"
                + " check (temperature > -5), organic boolean, remark varchar(40),"
                + " dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)")
        .expect(0);
  }

  /** The totals of each feed's load, and the groups of problems. */
  private static Map<String, JsonNode> loads(List<JsonNode> objects) {
    Map<String, JsonNode> loads = new TreeMap<>();
    objects.stream()
        .filter(o -> o.path("event").asText().equals("load"))
        .forEach(o -> loads.put(o.get("feed").asText(), o));
    return loads;
  }

  private static Set<String> groups(List<JsonNode> objects) {
    Set<String> groups = new HashSet<>();
    objects.stream()
        .filter(o -> o.path("event").asText().equals("group"))
        .forEach(
            o ->
                groups.add(
                    o.get("feed").asText()
                        + " "
                        + o.get("column").asText()
                        + " "
                        + o.get("code").asText()
                        + " "
                        + o.get("count").asText()));
    return groups;
  }

  private void tell(String warehouse) throws Exception {
    prepare(warehouse);
    List<JsonNode> rehearsed = json(0, "rehearse");
    List<JsonNode> loaded = json(0, "load");
    for (String feed : FEEDS) {
      JsonNode tally = loads(loaded).get(feed);
      int faulty = WrenfoldFaults.faulty().get(feed);
      int good = WrenfoldFaults.GOOD.get(feed);
      assertEquals(good + faulty, tally.get("read").asInt(), feed);
      assertEquals(good, tally.get("loaded").asInt(), feed);
      assertEquals(faulty, tally.get("rejected").asInt(), feed);
      for (String count : List.of("read", "loaded", "duplicate", "rejected", "filtered")) {
        assertEquals(tally.get(count), loads(rehearsed).get(feed).get(count), feed + " " + count);
      }
    }
    List<JsonNode> understood = json(0, "rejects");
    assertEquals(groups(rehearsed), groups(understood));
    assertTrue(groups(understood).size() >= 25, () -> groups(understood).toString());
    understood.stream()
        .filter(o -> o.path("event").asText().equals("group"))
        .forEach(o -> assertTrue(o.get("since").asText().startsWith("new today"), o::toString));
    books(Map.of("deliveries", "19/0/0", "samples", "7/0/0"));
    repair();
    settle();
    reverse();
  }

  private void repair() throws Exception {
    Map<String, Integer> left =
        Map.of("deliveries", 5, "weighings", 1, "samples", 1, "inspections", 0, "tariffs", 1);
    for (String feed : FEEDS) {
      List<JsonNode> exported = json(0, "rejects", "export", feed, "--to", "fix/" + feed);
      assertEquals(WrenfoldFaults.faulty().get(feed), exported.get(0).get("rejects").asInt());
      Path file = folder.resolve(exported.get(0).get("files").get(0).asText());
      assertTrue(new WrenfoldFaults().correct(feed, file) > 0);
      int wrong = left.get(feed);
      JsonNode mended =
          json(wrong == 0 ? 0 : 1, "mend", file.toString()).stream()
              .filter(o -> o.path("event").asText().equals("mend"))
              .findFirst()
              .orElseThrow();
      assertEquals(WrenfoldFaults.faulty().get(feed), mended.get("read").asInt(), feed);
      assertEquals(wrong, mended.get("rejected").asInt(), feed);
    }
    books(Map.of("deliveries", "5/14/0", "inspections", "0/3/0"));
    assertEquals(
        "=1+1",
        program
            .run("sql", "select remark from dairy.delivery where docket_no = 700019")
            .expect(0)
            .out()
            .lines()
            .skip(1)
            .findFirst()
            .orElseThrow()
            .strip());
  }

  private void settle() throws Exception {
    program.run("sql", "insert into dairy.supplier values ('WF0009')").expect(0);
    program
        .run("sql", "alter table dairy.delivery alter column remark set data type varchar(60)")
        .expect(0);
    Path yaml = folder.resolve("dusky.yaml");
    Files.writeString(yaml, Files.readString(yaml).replace("varchar(40)", "varchar(60)"));
    json(1, "mend", "--retry", "deliveries");
    books(Map.of("deliveries", "3/16/0"));
    json(0, "rejects", "waive", "deliveries", "--code", "key-taken", "--reason", "repeat");
    json(0, "rejects", "waive", "deliveries", "--column", "temperature", "--reason", "frozen");
    json(0, "rejects", "waive", "deliveries", "--code", "null-value", "--reason", "no farm");
    books(Map.of("deliveries", "0/16/3"));
    assertEquals(
        3,
        json(0, "rejects", "purge", "deliveries", "--settled-before", "0h")
                .get(0)
                .get("rejects")
                .asInt()
            - 16);
    books(Map.of("deliveries", "0/16/3"));
  }

  private void reverse() throws Exception {
    JsonNode reversed = json(0, "reverse", "deliveries/2026-03-04.csv").get(0);
    assertEquals(416, reversed.get("rows").asInt());
    books(Map.of("deliveries", "0/0/0"));
    Map<String, JsonNode> again = loads(json(0, "load", "deliveries"));
    assertEquals(402, again.get("deliveries").get("loaded").asInt());
    books(Map.of("deliveries", "17/0/0"));
  }

  /** The books balance, and rejects stand as open/mended/waived. */
  private void books(Map<String, String> rejects) throws Exception {
    for (JsonNode feed : json(0, "balance")) {
      assertTrue(feed.get("agrees").asBoolean(), feed::toString);
      String expected = rejects.get(feed.get("feed").asText());
      if (expected != null) {
        assertEquals(
            expected,
            feed.get("rejects_open").asText()
                + "/"
                + feed.get("rejects_mended").asText()
                + "/"
                + feed.get("rejects_waived").asText());
      }
    }
  }
}
