package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.http.Answers;
import dev.dusky.app.http.HttpService;
import dev.dusky.cli.Program.Run;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Alerts by the built program on a real PostgreSQL, to a real server. */
class AlertsIT extends ProcessTesting {

  private static final int FEEDS = 4;

  /** How many processes are killed while they watch. */
  private static final int ROUNDS = Integer.getInteger("dusky.rounds", 2);

  private final List<JsonNode> told = Collections.synchronizedList(new ArrayList<>());
  private HttpService hook;
  private volatile int status = 200;

  @BeforeEach
  void listen() {
    hook =
        new HttpService(
            InetSocketAddress.createUnresolved("127.0.0.1", 0),
            4,
            "",
            exchange ->
                exchange
                    .getRequestReceiver()
                    .receiveFullBytes(
                        (done, body) -> {
                          try {
                            told.add(new ObjectMapper().readTree(body));
                          } catch (java.io.IOException e) {
                            throw new java.io.UncheckedIOException(e);
                          }
                          Answers.send(done, status, Map.of());
                        }));
  }

  @AfterEach
  void stopListening() {
    hook.close();
  }

  private void configure(int port, int feeds) throws Exception {
    StringBuilder yaml =
        new StringBuilder(
            """
            warehouse: { url: "jdbc:postgresql://localhost:%d/%s", user: postgres }
            depots: { yard: "file:./intake" }
            layouts: { csv: { kind: delimited } }
            alerts:
              group: 100ms
              to: { duty: { webhook: "http://127.0.0.1:%d/" } }
            feeds:
            """
                .formatted(server.getPort(), database, port));
    for (int i = 0; i < feeds; i++) {
      yaml.append(
          "  f%d: { depot: yard, files: \"f%d/*.csv\", layout: csv, into: intake.f%d, create: true, columns: { no: bigint not null } }\n"
              .formatted(i, i, i));
    }
    dusky.file("dusky.yaml", yaml.toString());
  }

  private List<String> words() {
    return told.stream()
        .map(e -> e.path("type").asText() + " " + e.path("subject").asText())
        .toList();
  }

  @Test
  void anAlertIsOpenedChangedAndOver() throws Exception {
    configure(hook.port(), FEEDS);
    dusky.file("intake/f0/a.csv", "no\nx\n");
    Program within = Program.within(folder);
    within.run("load", "f0").expect(1);
    assertEquals(List.of("dev.dusky.alert.open f0"), words());
    assertTrue(told.get(0).path("data").path("words").asText().contains("f0/a.csv"));
    within.run("load", "f0").expect(1);
    assertEquals(1, told.size(), "told once");
    String open = within.run("alerts").expect(0).out();
    assertTrue(open.contains("file-refused") && open.contains("dusky files f0"), open);
    within.run("alerts", "acknowledge", "1").expect(0);
    assertTrue(within.run("alerts", "--json").expect(0).out().contains("\"acknowledged\":\""));
    within.run("alerts", "acknowledge", "77").expect(2);
    dusky.file("intake/f0/b.csv", "no\ny\n");
    within.run("load", "f0").expect(1);
    dusky.file("intake/f0/a.csv", "no\n1\n").file("intake/f0/b.csv", "no\n22\n");
    status = 500;
    Run failing = within.run("load", "f0").expect(0);
    assertTrue(failing.err().contains("Target duty did not take 1 alerts"), failing.err());
    assertEquals(0, ask("select count(*) from dusky.alert where open_key is not null"));
    status = 200;
    told.clear();
    within
        .run("sql", "update dusky.alert_message set due_at = now() where state = 'due'")
        .expect(0);
    within.run("alerts", "--look").expect(0);
    assertEquals(List.of("dev.dusky.alert.over f0"), words());
    assertTrue(within.run("alerts").expect(0).out().contains("No alert is open"));
    within.run("alerts", "--try").expect(0);
    assertEquals("dev.dusky.alert.trial trial", words().get(1));
    within.run("alerts", "--try", "nobody").expect(2);
    configure(1, FEEDS);
    assertTrue(within.run("alerts", "--try").expect(3).err().contains("did not take a trial"));
  }

  /** Four processes watch and are killed at random; each alert has one identity and is received. */
  @Test
  void killedProcessesTellEachAlertOnce() throws Exception {
    int alerts = FEEDS * ROUNDS;
    configure(hook.port(), alerts);
    Files.createDirectories(folder.resolve("intake"));
    Program.within(folder).run("files").expect(0);
    Random random = new Random(5);
    List<Process> processes = new ArrayList<>();
    try {
      for (int i = 0; i < 4; i++) {
        processes.add(dusky.start("watch", "--interval", "200ms"));
      }
      for (int round = 0; round < ROUNDS; round++) {
        for (int i = round * FEEDS; i < (round + 1) * FEEDS; i++) {
          dusky.file("intake/f%d/a.csv".formatted(i), "no\nx\n");
        }
        while (ask("select count(*) from dusky.alert") < (round + 0.5) * FEEDS) {
          assertTrue(processes.stream().anyMatch(Process::isAlive));
        }
        int victim = random.nextInt(4);
        processes.get(victim).waitFor(random.nextInt(300), TimeUnit.MILLISECONDS);
        processes.get(victim).destroyForcibly().waitFor();
        processes.set(victim, dusky.start("watch", "--interval", "200ms"));
      }
      while (ask("select count(*) from dusky.alert_message where state = 'sent'") < alerts) {
        assertTrue(processes.stream().anyMatch(Process::isAlive));
      }
    } finally {
      for (Process process : processes) {
        process.destroyForcibly().waitFor();
      }
    }
    Set<String> ids = new TreeSet<>();
    Set<String> subjects = new TreeSet<>();
    for (JsonNode event : List.copyOf(told)) {
      ids.add(event.path("id").asText());
      subjects.add(event.path("subject").asText());
    }
    assertEquals(alerts, ask("select count(*) from dusky.alert"));
    assertEquals(alerts, ask("select count(*) from dusky.alert_message"));
    assertEquals(alerts, ids.size(), ids.toString());
    assertEquals(alerts, subjects.size(), subjects.toString());
    int again = told.size() - alerts;
    assertTrue(again <= ROUNDS, again + " were sent again by " + ROUNDS + " kills");
  }
}
