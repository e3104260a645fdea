package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.standin.Faults;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Staging by the built program: large files, parts and streams, and what a kill leaves. */
class StagingIT extends StoreTesting {

  /** Dockets with values on several lines. */
  private void dockets(String name, int rows) throws IOException {
    StringBuilder text = new StringBuilder("no,remark,litres\n");
    for (int i = 0; i < rows; i++) {
      text.append(i)
          .append(
              i % 9 == 0
                  ? ",\"two\nlines, \"\"really\"\"\","
                  : ",a farm at the end of the second round of that same day as always,");
      text.append(i % 1000).append(".5\n");
    }
    dusky.file(name, text.toString());
  }

  @Test
  void aFileIsCutCompressedAndLoadedAndItsManifestAgrees() throws Exception {
    dockets("06.csv", 24_000);
    Run staged =
        dusky
            .run(
                "stage",
                "yard",
                "06.csv",
                "--under",
                "in",
                "--split",
                "1MB",
                "--compress",
                "zstd",
                "--manifest",
                "in/06.json",
                "--move")
            .expect(0);
    assertTrue(staged.out().contains("in/06-0001.csv.zst"), staged.out());
    assertFalse(Files.exists(folder.resolve("06.csv")), "it was moved");
    String manifest = Files.readString(folder.resolve("yard/in/06.json"));
    assertTrue(manifest.contains("\"totals\": {\"litres\": "), manifest);
    Run load = dusky.run("load", "--manifest", "yard:in/06.json").expect(0);
    assertTrue(load.out().contains("read 24 000 = loaded 24 000"), load.out());
    dusky.run("balance").expect(0);
    Run sum =
        dusky
            .run(
                "sql", "--json", "select count(*) as n, count(distinct no) as d from intake.docket")
            .expect(0);
    assertEquals("{\"n\":24000,\"d\":24000}", sum.out().strip());
    dockets("06.csv", 24_000);
    Run again =
        dusky
            .run("stage", "yard", "06.csv", "--under", "in", "--split", "1MB", "--compress", "zstd")
            .expect(0);
    assertTrue(again.out().contains("0 staged"), "parts are the same each time: " + again.out());
  }

  @Test
  void aKilledCutIsContinuedAndNoPartIsHalf() throws Exception {
    dockets("06.csv", 60_000);
    String[] cut = {"stage", "yard", "06.csv", "--under", "in", "--split", "1MB", "--move"};
    List<String> slow = new ArrayList<>(List.of(cut));
    slow.addAll(List.of("--limit-rate", "6MB", "--parallel", "1"));
    Process process = dusky.start(slow.toArray(String[]::new));
    while (!Files.exists(folder.resolve("yard/in/06-0002.csv"))) {
      assertTrue(process.isAlive(), "it ended before it was killed");
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroyForcibly().waitFor();
    assertTrue(
        Files.exists(folder.resolve("06.csv")), "it is not moved before all parts are there");
    Run rest = dusky.run(cut).expect(0);
    assertTrue(rest.out().contains("2 there already"), rest.out());
    assertFalse(Files.exists(folder.resolve("06.csv")));
    Run load = dusky.run("load").expect(0);
    assertTrue(load.out().contains("read 60 000 = loaded 60 000"), load.out());
  }

  @Test
  void aStreamThatSaysNothingForLongStagesWhatItHasAndLivesOn() throws Exception {
    Process process = stream("--roll", "100MB,1s");
    OutputStream in = process.getOutputStream();
    for (long round = 1; round <= 2; round++) {
      for (long n = 0; n < 10; n++) {
        in.write(record((round - 1) * 10 + n));
      }
      in.flush();
      while (!sent(round)) {
        assertTrue(process.isAlive(), "it ended with its stream still open");
        process.waitFor(2, TimeUnit.MILLISECONDS);
      }
      assertSame(upTo(10 * round), staged());
    }
    in.close();
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    assertEquals(0, process.exitValue());
    assertSame(upTo(20), staged());
  }

  /** Whether that number of files was made of the stream, and the depot has all of them. */
  private boolean sent(long files) throws IOException {
    Path spool = folder.resolve(".dusky-spool/store-ev-n-.jsonl.gz");
    Path stored = folder.resolve("buckets/intake");
    try (Stream<Path> all = Files.walk(stored)) {
      if (all.filter(file -> file.toString().endsWith(".properties")).count() < files) {
        return false;
      }
    }
    try (Stream<Path> left = Files.list(spool)) {
      return left.noneMatch(file -> file.toString().endsWith(".ready"));
    }
  }

  @Test
  void whatCannotBeCutIsTold() throws Exception {
    dusky.file("a.json", "[" + "{\"a\":1},\n".repeat(200_000) + "{}]");
    dockets("b.csv", 24_000);
    Run none = dusky.run("stage", "yard", "b.csv", "--split", "1MB").expect(1);
    assertTrue(none.out().contains("a file of no feed of depot yard"), none.out());
    Run json = dusky.run("stage", "yard", "a.json", "--split", "1MB", "--layout", "json").expect(1);
    assertTrue(json.out().contains("Only JSON lines are cut"), json.out());
    dusky.run("stage", "yard", "b.csv", "--split", "1MB", "--layout", "none").expect(2);
    dusky.run("stage", "yard", "b.csv", "--split", "10kB").expect(2);
    dusky.run("stage", "yard", "b.csv", "--compress", "zip").expect(2);
    assertFalse(Files.exists(folder.resolve("yard/a.json")));
  }

  @Test
  void aKilledUploadIsContinued() throws Exception {
    byte[] content = new byte[20_000_000];
    new Random(2).nextBytes(content);
    Files.write(folder.resolve("big.bin"), content);
    Process process =
        dusky.start("stage", "store", "big.bin", "--limit-rate", "40MB", "--parallel", "1");
    while (parts() < 2) { // so the first has come as a whole
      assertTrue(process.isAlive(), "it ended before it was killed");
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroyForcibly().waitFor();
    Run probe = dusky.run("probe", "store").expect(0);
    assertTrue(probe.out().contains("1 unfinished, the oldest of big.bin"), probe.out());
    Run rest = dusky.run("stage", "store", "big.bin", "--dry-run").expect(0);
    assertTrue(rest.out().contains("nothing was sent"), rest.out());
    dusky.run("stage", "store", "big.bin", "--move").expect(0);
    assertFalse(Files.exists(folder.resolve("big.bin")));
    Run after = dusky.run("probe", "store").expect(0);
    assertTrue(after.out().contains("none is unfinished"), after.out());
    Files.write(folder.resolve("big.bin"), content);
    Run same = dusky.run("stage", "store", "big.bin").expect(0);
    assertTrue(same.out().contains("1 there already"), same.out());
  }

  /** How many parts of uploads have come to the store. */
  private long parts() throws IOException {
    try (Stream<Path> files = Files.list(folder.resolve("buckets"))) {
      return files.filter(f -> f.getFileName().toString().endsWith(".part")).count();
    }
  }

  @Test
  void uploadsThatNobodyFinishesAreDropped() throws Exception {
    Files.write(folder.resolve("big.bin"), new byte[20_000_000]);
    Process process = dusky.start("stage", "store", "big.bin", "--limit-rate", "15MB");
    while (parts() == 0) {
      assertTrue(process.isAlive(), "it ended before it was killed");
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.destroyForcibly().waitFor();
    Run young = dusky.run("stage", "store", "--tidy").expect(0);
    assertTrue(young.out().contains("0 unfinished uploads dropped, 1 left"), young.out());
    Run meant = dusky.run("stage", "store", "--tidy", "--older", "0 s", "--dry-run").expect(0);
    assertTrue(meant.out().contains("1 unfinished upload would be dropped"), meant.out());
    Run dropped = dusky.run("stage", "store", "--tidy", "--older", "0 s").expect(0);
    assertTrue(dropped.out().contains("1 unfinished upload dropped, 0 left"), dropped.out());
    Run none = dusky.run("stage", "store", "--tidy", "--older", "0 s").expect(0);
    assertTrue(none.out().contains("0 unfinished uploads dropped, 0 left"), none.out());
  }

  @Test
  void oneFileThatCannotBeReadDoesNotStopTheOthers() throws Exception {
    dusky.file("out/a.csv", "1\n").file("out/c.txt", "2\n").file("out/d/e.csv", "3\n");
    Files.createSymbolicLink(folder.resolve("out/b.csv"), Path.of("/proc/self/mem"));
    Run run =
        dusky
            .run("stage", "yard", "out", "--include", "*.csv", "--exclude", "d/*", "--move")
            .expect(1);
    assertTrue(run.out().contains("1 staged"), run.out());
    assertTrue(run.out().contains("1 failed"), run.out());
    assertFalse(Files.exists(folder.resolve("out/a.csv")));
    assertTrue(Files.exists(folder.resolve("out/c.txt")));
    assertTrue(Files.exists(folder.resolve("out/d/e.csv")));
    dusky.run("stage", "yard", "out", "--include", "[").expect(2);
    dusky.run("stage", "yard", "out", "--limit-rate", "fast").expect(2);
  }

  // ---- streams

  private Process stream(String... more) throws IOException {
    List<String> words = new ArrayList<>(List.of("stage", "store", "-", "--as", "ev/{n}.jsonl.gz"));
    words.addAll(List.of(more));
    return dusky.start(words.toArray(String[]::new));
  }

  private static byte[] record(long n) {
    return "{\"n\":%d,\"text\":\"%s\"}\n"
        .formatted(n, "x".repeat((int) (n % 700)))
        .getBytes(StandardCharsets.UTF_8);
  }

  /** The numbers of all records that are staged, in the order of the files' names. */
  private List<Long> staged() throws Exception {
    List<Long> numbers = new ArrayList<>();
    for (String line : storedLines()) {
      assertTrue(line.endsWith("\"}"), "a cut record: " + line);
      numbers.add(Long.parseLong(line.substring(5, line.indexOf(','))));
    }
    return numbers;
  }

  /** Equal, with a message that does not list thousands of numbers. */
  private static void assertSame(List<Long> expected, List<Long> actual) {
    assertEquals(expected.size(), actual.size());
    for (int i = 0; i < expected.size(); i++) {
      assertEquals(expected.get(i), actual.get(i), "record " + i);
    }
  }

  private static List<Long> upTo(long count) {
    return LongStream.range(0, count).boxed().collect(Collectors.toList());
  }

  @Test
  void aStreamBecomesFilesOfWholeRecords() throws Exception {
    Process process = stream("--roll", "500kB,1 h");
    try (OutputStream in = process.getOutputStream()) {
      for (long n = 0; n < 20_000; n++) {
        in.write(record(n));
      }
    }
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    assertEquals(0, process.exitValue());
    assertSame(upTo(20_000), staged());
  }

  @Test
  void aStreamThatIsStoppedStagesWhatItHas() throws Exception {
    Process process = stream("--roll", "100MB,1 h");
    OutputStream in = process.getOutputStream();
    for (long n = 0; n < 5_000; n++) {
      in.write(record(n));
    }
    in.write("{\"n\":5000,\"te".getBytes(StandardCharsets.UTF_8));
    in.flush();
    Path spool = folder.resolve(".dusky-spool/store-ev-n-.jsonl.gz/000000000001.open");
    while (!Files.exists(spool) || Files.size(spool) < 1_700_000) {
      assertTrue(process.isAlive());
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    process.toHandle().destroy(); // SIGTERM; the stream stays open
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    List<Long> staged = staged();
    assertSame(upTo(staged.size()), staged);
    assertTrue(staged.size() > 4_000, staged.size() + " records");
  }

  /** Kills it again and again: what it had taken is staged once, in order, and nothing is cut. */
  @Test
  void aKilledStreamLosesNothingThatItKept() throws Exception {
    Random random = new Random(11);
    long next = 0;
    for (int round = 0; round < 3; round++) {
      Process process = stream("--roll", "200kB,1 h");
      long kept = 300_000L + random.nextInt(1_500_000);
      long written = 0;
      try (OutputStream in = process.getOutputStream()) {
        while (written < kept) {
          byte[] record = record(next++);
          in.write(record);
          written += record.length;
        }
        in.flush();
        process.destroyForcibly().waitFor();
      } catch (IOException theProcessIsGone) {
        assertFalse(process.isAlive());
      }
      assertEquals(0, finishStream());
      List<Long> staged = staged();
      assertSame(upTo(staged.size()), staged);
      next = staged.size(); // the producer repeats what was not kept
    }
    assertTrue(next > 500, next + " records");
  }

  private int finishStream() throws Exception {
    Process process = stream();
    process.getOutputStream().close();
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    return process.exitValue();
  }

  @Test
  void aStreamWaitsForADepotThatDoesNotAnswer() throws Exception {
    store.faults().deny(Faults.Right.WRITE);
    Process process = stream("--roll", "100kB,1 h");
    OutputStream in = process.getOutputStream();
    for (long n = 0; n < 3_000; n++) {
      in.write(record(n));
    }
    in.flush();
    Path spool = folder.resolve(".dusky-spool/store-ev-n-.jsonl.gz/000000000003.ready");
    while (!Files.exists(spool)) {
      assertTrue(process.isAlive());
      process.waitFor(2, TimeUnit.MILLISECONDS);
    }
    store.faults().clear();
    in.close();
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    assertEquals(0, process.exitValue());
    assertSame(upTo(3_000), staged());
  }

  @Test
  void aFullDiskEndsTheStreamAndLosesNothingThatWasKept() throws Exception {
    dusky.behind("bash", "-c", "ulimit -f 1000; exec \"$@\"", "limited");
    Process process = stream("--roll", "100MB,1 h");
    long written = 0;
    try (OutputStream in = process.getOutputStream()) {
      while (written < 20_000) {
        in.write(record(written++));
      }
    } catch (IOException theStreamHasEnded) {
      assertTrue(written > 1_000, written + " records");
    }
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    assertEquals(70, process.exitValue());
    dusky.behind();
    assertEquals(0, finishStream());
    List<Long> staged = staged();
    assertSame(upTo(staged.size()), staged);
    assertTrue(staged.size() > 1_000, staged.size() + " records");
  }

  @Test
  void aStreamWhoseDepotStaysAwayFailsAndKeepsAll() throws Exception {
    store.faults().deny(Faults.Right.WRITE);
    Process process = stream();
    try (OutputStream in = process.getOutputStream()) {
      in.write(record(0));
    }
    assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    assertEquals(4, process.exitValue());
    store.faults().clear();
    assertEquals(0, finishStream());
    assertEquals(upTo(1), staged());
  }
}
