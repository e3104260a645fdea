package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;

/**
 * Processes that load into one table of a folder, and are killed. {@code -Dlake.kills} is how many
 * kills there are, {@code -Dlake.processes} how many processes at a time, {@code -Dlake.commits}
 * how many files each of them finds where none is killed. Not a part of every build: the contract
 * of such tables fails and kills each step of a load within one process.
 */
@EnabledIfSystemProperty(named = "lake.kills", matches = "\\d+")
class LakeKilledIT extends ProcessTesting {

  private static final int KILLS = Integer.getInteger("lake.kills", 0);

  private static final int COMMITS = Integer.getInteger("lake.commits", 10);

  private static final int AT_ONCE = Integer.getInteger("lake.processes", 2);

  /** More bytes than a file has that shares its commit with others. */
  private static final int ROWS = 10_000;

  /** Files that wait at least, so that each process has something to do. */
  private static final int WAITING = 6 * AT_ONCE;

  private final Random random = new Random(7);
  private int files;

  private void write(int count) throws IOException {
    for (int i = 0; i < count; i++) {
      int file = files++;
      StringBuilder text = new StringBuilder(CommandsIT.HEADER);
      for (int row = 0; row < ROWS; row++) {
        text.append(file * 1_000_000L + row).append(",WF").append(row % 999);
        text.append(",02/03/2026 05:46,").append(row % 99).append(".5\n");
      }
      dusky.file("intake/f%05d.csv".formatted(file), text.toString());
    }
  }

  /** Kills a process while it starts, reads, writes or commits; false if it had ended already. */
  private boolean kill(Process process) throws InterruptedException {
    boolean ended = process.waitFor(200 + random.nextInt(700 * AT_ONCE), TimeUnit.MILLISECONDS);
    process.destroyForcibly().waitFor();
    return !ended;
  }

  private void begin() throws Exception {
    dusky.file(
        "dusky.yaml",
        config("postgresql")
            .replace("{ url:", "{ tables: \"file:./tables\", ledger:")
            .replace("tolerance: 1", "tolerance: 1\n    totals: [litres]"));
    write(1);
    dusky.run("load").expect(0);
  }

  @Test
  void whateverIsKilledNoRowIsLostOrDoubled() throws Exception {
    begin();
    List<Process> running = new ArrayList<>();
    for (int killed = 0; killed < KILLS; ) {
      long waiting = files - ask("select count(*) from dusky.file where state = 'posted'");
      write((int) Math.max(0, WAITING - waiting));
      while (running.size() < AT_ONCE) {
        running.add(dusky.start("load"));
      }
      killed += kill(running.remove(0)) ? 1 : 0;
    }
    for (Process last : running) {
      assertEquals(0, last.waitFor(), "the others load what is left");
    }
    dusky.run("load").expect(0);
    prove();
    String left = tidied();
    System.out.printf("%d kills of %d processes at a time: %s%n", KILLS, AT_ONCE, left.strip());
    assertEquals("nothing to tidy", tidied().strip(), "what the killed ones left is removed");
    dusky.run("balance").expect(0);
  }

  @Test
  void noCommitOfProcessesThatWriteAtTheSameTimeIsLost() throws Exception {
    begin();
    write(AT_ONCE * COMMITS);
    long began = System.nanoTime();
    List<Process> running = new ArrayList<>();
    for (int i = 0; i < AT_ONCE; i++) {
      running.add(dusky.start("load"));
    }
    for (Process process : running) {
      assertEquals(0, process.waitFor());
    }
    double seconds = (System.nanoTime() - began) / 1e9;
    prove();
    List<String> shares = shares();
    System.out.printf(
        "%d files by %d processes in %.1f s, each by load: %s%n", files, AT_ONCE, seconds, shares);
    assertTrue(shares.size() > 1, "the files were divided: " + shares);
  }

  /** How many files each load has posted. */
  private List<String> shares() throws Exception {
    return List.of(
        dusky
            .run("sql", "select count(*) from dusky.tally group by load_id order by 1", "--json")
            .expect(0)
            .out()
            .strip()
            .split("\n"));
  }

  /** Every file is posted once, with all of its rows. */
  private void prove() throws Exception {
    long rows = (long) files * ROWS;
    assertEquals(files, ask("select count(*) from dusky.file where state = 'posted'"));
    assertEquals(rows, ask("select sum(loaded_rows) from dusky.tally"));
    String proof = dusky.run("balance").expect(0).out();
    assertTrue(
        proof.replace(" ", "").contains("ledger%d,table%d".formatted(rows, rows)),
        () -> proof + " for " + rows);
  }

  /** Tidies as if all were old; what it says. */
  private String tidied() throws Exception {
    Instant old = Instant.now().minus(Duration.ofDays(1));
    try (Stream<Path> all = Files.walk(folder.resolve("tables"))) {
      for (Path file : all.filter(Files::isRegularFile).toList()) {
        Files.setLastModifiedTime(file, FileTime.from(old));
      }
    }
    return dusky.run("tidy", "--older", "1 h").expect(0).out();
  }
}
