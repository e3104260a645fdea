package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ForwardingDepot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.probe.DepotProbe;
import dev.dusky.core.probe.DepotUse;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

/** What every depot promises that files can be stored in, whatever is behind it. */
public abstract class DepotContract extends ReadingContract {

  @Override
  protected StagedFile given(String path, byte[] bytes) throws IOException {
    return put(path, bytes);
  }

  protected final StagedFile put(String path, byte[] bytes) throws IOException {
    return depot().put(path, file("put.tmp", bytes));
  }

  @Test
  protected void whatIsPutIsThereByteForByte() throws IOException {
    byte[] bytes = random(300_000);
    AtomicLong sent = new AtomicLong();
    StagedFile staged;
    try (Uplink uplink = new Uplink(2, 0, sent::addAndGet)) {
      staged = depot().put("a/b c/ä+1.csv", file("x", bytes), uplink);
    }
    assertEquals(bytes.length, staged.size());
    assertEquals(bytes.length, sent.get());
    assertEquals(
        Optional.of(staged.version()), depot().look("a/b c/ä+1.csv").map(StagedFile::version));
    assertEquals(List.of("a/b c/ä+1.csv"), paths(""));
    try (InputStream in = depot().open(staged)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
  }

  @Test
  protected void aFileThatCameInPlaceOfAnotherIsNotRemovedForIt() throws IOException {
    StagedFile first = put("a.csv", "one".getBytes());
    StagedFile second = put("a.csv", "three".getBytes());
    depot().remove(first);
    assertEquals(Optional.of(second.version()), depot().look("a.csv").map(StagedFile::version));
    depot().remove(second);
    assertEquals(List.of(), paths(""));
    depot().remove(second);
  }

  @Test
  protected void movedFilesAreElsewhereWithTheirContentAndOthersAreNotTouched() throws IOException {
    StagedFile first = put("in/a+b.csv", "one".getBytes());
    depot().move(first, "done/in/a+b.csv");
    assertEquals(List.of("done/in/a+b.csv"), paths(""));
    try (InputStream in = depot().open(depot().look("done/in/a+b.csv").orElseThrow())) {
      assertArrayEquals("one".getBytes(), in.readAllBytes());
    }
    StagedFile second = put("in/b.csv", "two".getBytes());
    put("in/b.csv", "three".getBytes());
    assertThrows(Failure.class, () -> depot().move(second, "done/in/b.csv"));
    assertEquals(List.of("done/in/a+b.csv", "in/b.csv"), paths(""));
  }

  @Test
  protected void aMovedFileNeverReplacesAnother() throws IOException {
    StagedFile file = put("a.csv", "ours".getBytes());
    StagedFile there = put("done/a.csv", "somebody else's".getBytes());
    assertFalse(depot().move(file, "done/a.csv"));
    assertEquals(there.version(), depot().look("done/a.csv").orElseThrow().version());
    assertEquals(file.version(), depot().look("a.csv").orElseThrow().version());
    assertTrue(depot().move(file, "done/a.csv.1"));
    assertEquals(List.of("done/a.csv", "done/a.csv.1"), paths(""));
  }

  @Test
  protected void removedFilesAreGone() throws IOException {
    put("a", random(10));
    depot().remove("a");
    assertEquals(List.of(), paths(""));
    depot().remove("a");
  }

  @Test
  protected void stagingPassesOverWhatIsThereAndLeavesOtherContentAlone() throws IOException {
    for (int i = 0; i < 12; i++) {
      file("out/d/" + i + ".csv", random(100 + i));
    }
    List<String> outcomes = new ArrayList<>();
    StageListener listener =
        new StageListener() {
          @Override
          public void sent(long bytes) {}

          @Override
          public synchronized void done(
              dev.dusky.core.stage.LocalFile file, StageListener.Outcome outcome, String why) {
            outcomes.add(outcome.label());
          }
        };
    StageResult first = stage(listener, false);
    assertEquals(12, first.staged());
    assertEquals(12, outcomes.size());
    file("out/d/3.csv", random(5000));
    file("out/d/new.csv", random(7));
    StageResult second = stage(listener, false);
    assertEquals(1, second.staged());
    assertEquals(11, second.same());
    assertEquals(1, second.differing());
    assertEquals(103, depot().look("daily/d/3.csv").orElseThrow().size());
    StageResult third = stage(listener, true);
    assertEquals(1, third.staged());
    assertEquals(5000, depot().look("daily/d/3.csv").orElseThrow().size());
  }

  /**
   * A request for each file only to find out that it is not there would cost as much as sending.
   */
  @Test
  protected void manyNewFilesAreStagedWithoutALookAtEach() throws IOException {
    for (int i = 0; i < 30; i++) {
      file("out/d/" + i + ".csv", random(10));
    }
    put("daily/d/7.csv", "other".getBytes());
    AtomicLong looks = new AtomicLong();
    Depot counting =
        new ForwardingDepot(depot()) {
          @Override
          public Optional<StagedFile> look(String path) {
            looks.incrementAndGet();
            return super.look(path);
          }
        };
    StageResult result =
        new Stager(counting, new StagePlan(false, 4, 0, false))
            .run(
                LocalFiles.find(List.of(local.resolve("out")), "daily", f -> true),
                new SilentListener());
    assertEquals(29, result.staged());
    assertEquals(1, result.differing());
    assertEquals(0, looks.get());
  }

  /** The folder that files have in common ends with a slash that all of them have. */
  @Test
  protected void aFileBesideAFolderOfItsNameIsNotOverlooked() throws IOException {
    for (String name : List.of("a/1", "a/2", "a/3", "a-b", "ab")) {
      file("out/" + name, random(10));
    }
    put("ab", "other".getBytes());
    StageResult result =
        new Stager(depot(), new StagePlan(false, 4, 0, false))
            .run(
                LocalFiles.find(List.of(local.resolve("out")), "", f -> true),
                new SilentListener());
    assertEquals(1, result.differing());
    assertEquals(5, depot().look("ab").orElseThrow().size());
  }

  private static final class SilentListener implements StageListener {
    @Override
    public void sent(long bytes) {}

    @Override
    public void done(dev.dusky.core.stage.LocalFile file, Outcome outcome, String why) {}
  }

  private StageResult stage(StageListener listener, boolean replace) {
    return new Stager(depot(), new StagePlan(replace, 4, 0, false))
        .run(LocalFiles.find(List.of(local.resolve("out")), "/daily/", f -> true), listener);
  }

  @Test
  protected void whatFeedsDoIsTriedAndLeavesNothingBehind() throws IOException {
    put("in/a.csv", random(10));
    DepotUse use =
        new DepotUse(
            List.of(
                new DepotUse.Reading("dockets", FilePattern.of("in/*.csv")),
                new DepotUse.Reading("assays", FilePattern.of("none/*.json"))),
            List.of(new DepotUse.Writing("rejects", "bad/")),
            List.of(new DepotUse.Moving("dockets", "in/", "done/")),
            List.of(new DepotUse.Removing("assays", "none/")));
    List<String> remarks = new ArrayList<>();
    new DepotProbe(depot(), use, true)
        .steps()
        .forEach(step -> remarks.add(step.name() + ": " + step.attempt().run().remark()));
    assertTrue(
        remarks.contains("feed dockets: listed, and first byte of in/a.csv read"),
        remarks.toString());
    assertTrue(
        remarks.contains("archive dockets: a small file moved to done/ and removed again"),
        remarks.toString());
    assertEquals(List.of("in/a.csv"), paths(""));
  }

  @Test
  protected void allRightsPassTheProbe() throws IOException {
    put("a", random(10));
    new DepotProbe(depot(), DepotUse.UNKNOWN, true)
        .steps()
        .forEach(step -> assertTrue(step.attempt().run().tried(), step.name()));
    assertEquals(List.of("a"), paths(""));
  }
}
