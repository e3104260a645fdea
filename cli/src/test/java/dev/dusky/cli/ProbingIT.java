package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.standin.Faults;
import java.nio.file.Files;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The probe tries what the feeds do with each depot, and says each cause once. */
class ProbingIT extends StoreTesting {

  private static final String FEEDS =
      """
        assays: { depot: store, files: "assays/*.csv", layout: csv, into: intake.assay, columns: { no: bigint } }
        tanks: { depot: store, files: "tanks/*.csv", layout: csv, into: intake.tank, columns: { no: bigint }%s }
      """;

  @BeforeEach
  void stageOne() throws Exception {
    Files.createDirectories(folder.resolve("yard"));
    Files.writeString(folder.resolve("1.csv"), "no\n1\n");
    dusky.run("stage", "store", "1.csv", "--under", "assays").expect(0);
  }

  private void feeds(String more) throws Exception {
    dusky.file(
        "dusky.yaml", Files.readString(folder.resolve("dusky.yaml")) + FEEDS.formatted(more));
  }

  private String probe(int code, String... names) throws Exception {
    String[] words = new String[names.length + 1];
    words[0] = "probe";
    System.arraycopy(names, 0, words, 1, names.length);
    return dusky.run(words).expect(code).out();
  }

  @Test
  void aStoreThatIsOnlyReadPassesWhereNoFeedWrites() throws Exception {
    feeds("");
    store.faults().deny(Faults.Right.WRITE);
    String probe = probe(0, "store");
    assertTrue(probe.contains("first byte of assays/1.csv read"), probe);
    assertTrue(probe.contains("no file matches tanks/*.csv yet"), probe);
    assertTrue(probe.contains("only 'dusky stage' needs it here"), probe);
  }

  @Test
  void anArchiveNeedsTheRightToWriteAndRejectsToo() throws Exception {
    feeds(", afterwards: { archive: done/ }, rejects-to: \"store:bad/\"");
    assertTrue(probe(0, "store").contains("a small file moved to done/ and removed again"));
    store.faults().deny(Faults.Right.WRITE);
    String probe = probe(4, "store");
    assertTrue(probe.matches("(?s).*archive tanks +failed +Depot store denies.*"), probe);
    assertTrue(
        probe.matches("(?s).*rejects tanks +failed +for the same cause as archive tanks.*"), probe);
  }

  @Test
  void theFailureOfOneDepotDoesNotStopTheOthers() throws Exception {
    feeds("");
    store.faults().deny(Faults.Right.LIST);
    String probe = probe(4);
    assertTrue(probe.matches("(?s).*feed assays +failed +Depot store denies the right to list.*"));
    assertTrue(probe.matches("(?s).*feed tanks +failed +for the same cause as feed assays.*"));
    assertTrue(probe.matches("(?s).*depot yard.*write +passed.*"), probe);
    assertTrue(probe.matches("(?s).*warehouse.*connect +passed.*"), probe);
  }

  @Test
  void theSmallestPolicyOfTheFeedsIsPrinted() throws Exception {
    feeds("");
    String policy = dusky.run("probe", "store", "--policy").expect(0).out();
    assertTrue(policy.contains("[\"assays/*\", \"tanks/*\"]"), policy);
    assertFalse(policy.contains("s3:PutObject"), policy);
    assertTrue(
        dusky.run("probe", "--policy", "--staging").expect(0).out().contains("s3:PutObject"));
    assertEquals(2, dusky.run("probe", "yard", "--policy").code());
  }
}
