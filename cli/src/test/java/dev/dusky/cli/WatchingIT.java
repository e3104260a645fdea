package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.io.OutputStream;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The built program watching, on a real PostgreSQL, H2, directories and an S3 server. */
class WatchingIT extends ProcessTesting {

  private static long ask(String database, String sql) throws Exception {
    try (Connection connection = connect(database);
        Statement statement = connection.createStatement();
        ResultSet row = statement.executeQuery(sql)) {
      row.next();
      return row.getLong(1);
    }
  }

  private static String postgres(String database) throws Exception {
    try (Connection admin = connect("postgres");
        Statement statement = admin.createStatement()) {
      statement.execute("create database " + database);
    }
    return "{ url: \"jdbc:postgresql://localhost:%d/%s\", user: postgres }"
        .formatted(server.getPort(), database);
  }

  private static String feed(String name, String depot) {
    return """
      %1$s:
        depot: %2$s
        files: "%1$s/**/*.csv"
        layout: { kind: delimited }
        into: intake.%1$s
        create: true
        totals: [litres]
        columns:
          no: bigint not null
          litres: decimal(9,1)
    """
        .formatted(name, depot);
  }

  private void arrive(String path, long from, int rows) throws IOException {
    StringBuilder text = new StringBuilder("no,litres\n");
    for (long no = from; no < from + rows; no++) {
      text.append(no).append(',').append(no % 1000).append(".5\n");
    }
    Path target = folder.resolve("intake").resolve(path);
    Files.createDirectories(target.getParent());
    Path part = target.resolveSibling("." + target.getFileName());
    Files.writeString(part, text);
    Files.move(part, target);
  }

  /** How many waves of arrivals and kills; each takes some seconds. */
  private static final int WAVES = Integer.getInteger("dusky.waves", 3);

  @Test
  void fourProcessesDivideTheFilesAndMayBeKilledAtAnyMoment() throws Exception {
    Program dusky =
        new Program(folder)
            .file(
                "dusky.yaml",
                "warehouse: %s\ndepots: { yard: \"file:./intake\" }\nfeeds:\n"
                        .formatted(postgres("divided"))
                    + feed("a", "yard")
                    + feed("b", "yard"));
    Random random = new Random(4);
    int files = 0;
    int rows = 400;
    Files.createDirectories(folder.resolve("intake"));
    dusky.run("files").expect(0);
    List<Process> processes = new ArrayList<>();
    try {
      for (int i = 0; i < 4; i++) {
        processes.add(dusky.start("watch", "--interval", "300ms"));
      }
      for (int wave = 0; wave < WAVES; wave++) {
        for (int i = 0; i < 24; i++) {
          String feed = i % 2 == 0 ? "a" : "b";
          arrive(
              "%s/%d/%d.csv".formatted(feed, random.nextInt(9), files),
              (long) files++ * rows,
              rows);
        }
        long half = files - 12;
        while (ask("divided", "select count(*) from dusky.file where state = 'posted'") < half) {
          assertTrue(processes.stream().anyMatch(Process::isAlive));
        }
        int killed = random.nextInt(4);
        processes.get(killed).destroyForcibly().waitFor();
        if (wave % 2 == 1) { // the database drops everybody, as when it restarts
          ask(
              "divided",
              "select count(pg_terminate_backend(pid)) from pg_stat_activity"
                  + " where datname = 'divided' and pid <> pg_backend_pid()");
        }
        processes.set(killed, dusky.start("watch", "--interval", "300ms"));
      }
      while (ask("divided", "select count(*) from dusky.file where state = 'posted'") < files) {
        assertTrue(processes.stream().anyMatch(Process::isAlive));
      }
    } finally {
      processes.forEach(Process::destroy);
      for (Process process : processes) {
        assertTrue(process.waitFor(30, TimeUnit.SECONDS), "it ends soon after SIGTERM");
      }
    }
    long all = (long) files * rows;
    String both = "(select no, litres from intake.a union all select no, litres from intake.b) u";
    assertEquals(all, ask("divided", "select count(*) from " + both));
    assertEquals(all, ask("divided", "select count(distinct no) from " + both));
    assertEquals(all * (all - 1) / 2, ask("divided", "select sum(no) from " + both));
    assertEquals(files, ask("divided", "select count(*) from dusky.tally where state = 'posted'"));
    assertTrue(
        ask(
                "divided",
                "select count(distinct l.load_id) from dusky.load l join dusky.tally t"
                    + " on t.load_id = l.load_id")
            > 4,
        "the work was divided");
    dusky.run("balance").expect(0);
  }

  private static String shaped(String name, String keys) {
    return """
      %1$s:
        depot: yard
        files: "%1$s/*.csv"
        layout: { kind: delimited }
        into: intake.%1$s
        create: true
        ready: { quiet: 50 ms }
        %2$s
        columns: { no: integer not null, litres: "decimal(5,1)" }
    """
        .formatted(name, keys);
  }

  private static void await(String database, String sql, long wanted, List<Process> processes)
      throws Exception {
    while (ask(database, sql) < wanted) {
      assertTrue(processes.stream().anyMatch(Process::isAlive), sql);
    }
  }

  @Test
  void twoProcessesTellTheStoryOfUntimelyAndDriftedFiles() throws Exception {
    Program dusky =
        new Program(folder)
            .file(
                "dusky.yaml",
                "warehouse: %s\ndepots: { yard: \"file:./intake\" }\nfeeds:\n"
                        .formatted(postgres("story"))
                    + shaped("e", "drift: { new: extend, widen: true }\n    revised: replace")
                    + shaped("c", "drift: capture\n    afterwards: { archive: kept/ }")
                    + shaped("r", "drift: refuse")
                    + shaped("i", "drift: ignore"));
    for (String feed : List.of("e", "c", "r", "i")) {
      dusky.file("intake/" + feed + "/2.csv", "no,litres\n1,1.5\n2,2.5\n");
    }
    dusky.run("files").expect(0);
    String settled = "select count(*) from dusky.file where state <> 'waiting'";
    List<Process> processes = new ArrayList<>();
    try {
      for (int i = 0; i < 2; i++) {
        processes.add(dusky.start("watch", "--interval", "300ms"));
      }
      await("story", settled, 4, processes);
      dusky.file("intake/e/1.csv", "no,litres\n3,3.5\n"); // late
      dusky.file("intake/e/3.csv", "no,litres\n1,1.5\n2,2.5\n"); // a twin
      await("story", settled, 6, processes);
      dusky.file("intake/e/2.csv", "no,litres\n1,1.5\n2,2.5\n9,9.5\n"); // revised
      await("story", settled, 7, processes);
      for (String feed : List.of("e", "c", "r", "i")) {
        dusky.file("intake/" + feed + "/4.csv", "no,litres,note\n4,123456.75,x\n");
      }
      await("story", settled, 11, processes);
    } finally {
      processes.forEach(Process::destroy);
      for (Process process : processes) {
        assertTrue(process.waitFor(30, TimeUnit.SECONDS));
      }
    }
    assertEquals(5, ask("story", "select count(*) from intake.e"));
    assertEquals(
        1, ask("story", "select count(*) from intake.e where note = 'x' and litres > 9999"));
    assertEquals(
        1,
        ask(
            "story",
            "select count(*) from intake.c where leftovers::text"
                + " = '{\"litres\":\"123456.75\",\"note\":\"x\"}'"));
    assertTrue(Files.exists(folder.resolve("intake/kept/c/4.csv")));
    assertEquals(2, ask("story", "select count(*) from dusky.file where state = 'refused'"));
    Run drift = dusky.run("journal", "--drift").expect(0);
    for (String told :
        List.of(
            "extended  new field note",
            "widened   values of litres",
            "captured  new field note",
            "refused   new field note",
            "ignored   new field note")) {
      assertTrue(drift.out().contains(told), told + "\n" + drift.out());
    }
    Run journal = dusky.run("journal").expect(0);
    assertTrue(
        journal.out().contains("1 twin") && journal.out().contains("reverse"), journal.out());
    dusky.run("promote", "c", "note").expect(0);
    assertEquals(1, ask("story", "select count(*) from intake.c where note = 'x'"));
    dusky.run("balance").expect(0);
  }

  @Test
  void notificationsAreTakenAtOnceAndNumbersAreServed() throws Exception {
    int port;
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    String site = "http://127.0.0.1:" + port;
    HttpClient http = HttpClient.newHttpClient();
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0)) {
      Program dusky =
          new Program(folder)
              .env("STORE_KEY", "key")
              .env("STORE_SECRET", "secret")
              .env("HOOK", "hush")
              .file(
                  "dusky.yaml",
                  """
                  warehouse: jdbc:h2:file:./warehouse
                  depots:
                    yard: { at: "s3://intake/daily", endpoint: "%s", access-key: env:STORE_KEY, secret-key: env:STORE_SECRET }
                  watch: { interval: 1 h, listen: "127.0.0.1:%d", secret: env:HOOK }
                  feeds:
                  """
                          .formatted(store.endpoint(), port)
                      + feed("a", "yard")
                      + """
                      merges:
                        a: { from: intake.a, into: trusted.a, create: true, key: no, after: each load }
                      """);
      arrive("a/0.csv", 0, 10);
      dusky.run("stage", "yard", "intake").expect(0);
      Process watch = dusky.start("watch", "--log", "json");
      try {
        awaitMetric(http, site, watch, "dusky_files_total{feed=\"a\",state=\"posted\"} 1.0");
        arrive("a/1.csv", 10, 10);
        dusky.run("stage", "yard", "intake").expect(0);
        HttpRequest.Builder told =
            HttpRequest.newBuilder(URI.create(site + "/notify"))
                .header("Authorization", "Bearer hush");
        String event =
            "{\"Records\":[{\"eventName\":\"ObjectCreated:Put\",\"s3\":{\"bucket\":{\"name\":\"intake\"},\"object\":{\"key\":\"daily/a/1.csv\"}}}]}";
        assertEquals(
            202,
            http.send(told.POST(BodyPublishers.ofString(event)).build(), BodyHandlers.discarding())
                .statusCode());
        awaitMetric(http, site, watch, "dusky_files_total{feed=\"a\",state=\"posted\"} 2.0");
        awaitMetric(http, site, watch, "dusky_merged_rows_total{merge=\"a\"} 20.0");
        assertEquals(
            200,
            http.send(
                    HttpRequest.newBuilder(URI.create(site + "/health")).build(),
                    BodyHandlers.discarding())
                .statusCode());
        Run other = dusky.run("sql", "--json", "select count(*) as n from trusted.a").expect(0);
        assertEquals("{\"n\":20}", other.out().strip(), "an idle watcher lets others in");
      } finally {
        watch.destroy();
        assertTrue(watch.waitFor(30, TimeUnit.SECONDS));
      }
    }
  }

  private static void awaitMetric(HttpClient http, String site, Process watch, String wanted)
      throws Exception {
    String last = "";
    while (!last.contains(wanted)) {
      assertTrue(watch.isAlive(), "watching ended");
      try {
        last =
            http.send(
                    HttpRequest.newBuilder(URI.create(site + "/metrics")).build(),
                    BodyHandlers.ofString())
                .body();
      } catch (IOException e) {
        Thread.onSpinWait(); // not listening yet
      }
    }
  }

  @Test
  void oneFeedsFailureStopsNoOtherAndAPausedFeedIsLeftAlone() throws Exception {
    Program dusky =
        new Program(folder)
            .file(
                "dusky.yaml",
                "warehouse: jdbc:h2:file:./warehouse\n"
                    + "depots: { yard: \"file:./intake\", gone: \"file:./nowhere\" }\nfeeds:\n"
                    + feed("a", "yard")
                    + feed("b", "gone")
                    + feed("c", "yard"));
    arrive("a/1.csv", 0, 5);
    arrive("c/1.csv", 0, 5);
    dusky.file("intake/a/bad.csv", "no,litres\nx,1\n");
    Instant before = Instant.now().minusSeconds(10); // whole for a while
    for (String path : List.of("a/1.csv", "a/bad.csv")) {
      Files.setLastModifiedTime(folder.resolve("intake/" + path), FileTime.from(before));
    }
    dusky.run("pause", "c", "--reason", "the scales are checked").expect(0);
    Run first = dusky.run("watch", "--once", "--log", "json");
    assertEquals(4, first.code(), first.all());
    assertTrue(first.out().contains("\"event\":\"failure\",\"name\":\"b\""), first.out());
    assertTrue(first.out().contains("\"path\":\"a/1.csv\",\"state\":\"posted\""), first.out());
    assertTrue(first.out().contains("\"path\":\"a/bad.csv\",\"state\":\"refused\""), first.out());
    assertTrue(first.out().contains("the scales are checked"), first.out());
    Run again = dusky.run("watch", "a", "--once").expect(0);
    assertTrue(
        !again.out().contains("bad.csv"), "a refused file waits for a person: " + again.out());
    Run status = dusky.run("watch", "--status").expect(0);
    assertTrue(status.out().matches("(?s).*\\nb +failing .*"), status.out());
    assertTrue(status.out().matches("(?s).*\\nc +paused +1 .*"), status.out());
    assertTrue(status.out().contains("a needs a decision on 1 file"), status.out());
    assertTrue(status.out().contains("b cannot be listed: Depot gone is not there"), status.out());
    assertEquals(2, status.out().split("Depot gone is not there", -1).length, "said once");
    assertTrue(status.out().contains("b failed 1\u00d7: the same"), status.out());
    Run json = dusky.run("files", "--summary", "--json", "a").expect(0);
    assertTrue(json.out().contains("\"posted\":1"), json.out());
    assertTrue(json.out().contains("\"refused\":1"), json.out());
    dusky.run("load", "c").expect(0);
    dusky.run("resume", "c").expect(0);
    Run resumed = dusky.run("load", "c").expect(0);
    assertTrue(resumed.out().contains("posted"), resumed.out());
    dusky.run("watch", "a", "--interval", "never").expect(2);
    dusky.run("watch", "--once", "--status").expect(2);
    dusky.run("pause", "c", "--reason", " ").expect(2);
  }

  /** Processes that a shell starts in the background ignore SIGINT, and so do their children. */
  private static boolean interruptible() throws IOException {
    String ignored =
        Files.readAllLines(Path.of("/proc/self/status")).stream()
            .filter(line -> line.startsWith("SigIgn:"))
            .findFirst()
            .orElseThrow();
    return (Long.parseUnsignedLong(ignored.substring(7).strip(), 16) & 2) == 0;
  }

  /** The board on a pseudo terminal; both ways to end it leave the terminal as it was. */
  @ParameterizedTest
  @CsvSource({"q, 0", "'\u0003', 130"})
  void onATerminalItShowsABoardUntilAKeyEndsIt(String key, int code) throws Exception {
    assumeTrue(Files.isExecutable(Path.of("/usr/bin/script")), "needs util-linux");
    assumeTrue(code == 0 || interruptible(), "ctrl-C is ignored where these tests were started");
    Program dusky =
        new Program(folder)
            .file(
                "dusky.yaml",
                "warehouse: { url: \"jdbc:h2:file:./w\" }\ndepots: { yard: \"file:./intake\" }\nfeeds:\n"
                    + feed("a", "yard")
                        .replace("    create:", "    afterwards: remove\n    create:"))
            .file("watch.sh", "stty -g >before; \"$@\"; echo $? >code; stty -g >after\n");
    arrive("a/1.csv", 0, 5);
    Files.setLastModifiedTime(
        folder.resolve("intake/a/1.csv"), FileTime.from(Instant.now().minusSeconds(10)));
    Process process = dusky.onTerminal("bash", "watch.sh").start("watch", "--interval", "100ms");
    CompletableFuture<String> screen =
        CompletableFuture.supplyAsync(() -> Program.text(process.getInputStream()));
    while (Files.exists(folder.resolve("intake/a/1.csv"))) {
      assertFalse(process.waitFor(50, TimeUnit.MILLISECONDS), "it ended by itself");
    }
    OutputStream keys = process.getOutputStream();
    do { // the board takes keys once it is drawn
      keys.write(key.getBytes(StandardCharsets.UTF_8));
      keys.flush();
    } while (!process.waitFor(500, TimeUnit.MILLISECONDS));
    String all = screen.get();
    assertEquals(code + "\n", Files.readString(folder.resolve("code")), all);
    assertEquals(
        Files.readString(folder.resolve("before")), Files.readString(folder.resolve("after")));
    assertTrue(all.contains("watching 1 feed"), all);
    int end = all.lastIndexOf("\u001b[?1049l");
    assertTrue(end > 0, all);
    assertTrue(all.substring(end).contains("posted 1 file, loaded 5 rows"), all.substring(end));
  }
}
