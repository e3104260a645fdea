package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ForwardingDepot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.StageResult;
import dev.dusky.core.stage.Stager;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What every depot promises, whatever is behind it. */
abstract class DepotContract {

  @TempDir Path local;

  /** The depot under test, empty for each test. */
  abstract Depot depot();

  final Path file(String name, byte[] bytes) throws IOException {
    Path file = local.resolve(name);
    Files.createDirectories(file.getParent());
    return Files.write(file, bytes);
  }

  final StagedFile put(String path, byte[] bytes) throws IOException {
    return depot().put(path, file("put.tmp", bytes));
  }

  final List<String> paths(String prefix) {
    List<String> paths = new ArrayList<>();
    depot().list(prefix).forEachRemaining(f -> paths.add(f.path()));
    return paths;
  }

  static byte[] random(int length) {
    byte[] bytes = new byte[length];
    new Random(length).nextBytes(bytes);
    return bytes;
  }

  @Test
  void whatIsPutIsThereByteForByte() throws IOException {
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
  void listingsGiveThePathsBelowAPrefixInTheOrderOfTheirBytes() throws IOException {
    for (String path : List.of("b/2", "a.csv", "a/1", "a/z/1", "a-b/1", "b/10", "c")) {
      put(path, path.getBytes());
    }
    assertEquals(List.of("a-b/1", "a.csv", "a/1", "a/z/1", "b/10", "b/2", "c"), paths(""));
    assertEquals(List.of("a/1", "a/z/1"), paths("a/"));
    assertEquals(List.of("b/10", "b/2"), paths("b"));
    assertEquals(List.of("b/10"), paths("b/1"));
    assertEquals(List.of(), paths("zzz"));
  }

  @Test
  void listingsCanBeginBehindAnyPath() throws IOException {
    List<String> all = List.of("a-b/1", "a.csv", "a/1", "a/z/1", "b/10", "b/2", "c");
    for (String path : all) {
      put(path, path.getBytes());
    }
    for (String after : List.of("", "a", "a-b/1", "a/", "a/1", "a/y", "a/z/1~", "b/2", "d")) {
      List<String> found = new ArrayList<>();
      depot().list("", after).forEachRemaining(file -> found.add(file.path()));
      assertEquals(all.stream().filter(p -> p.compareTo(after) > 0).toList(), found, after);
    }
    List<String> below = new ArrayList<>();
    depot().list("a/", "a/1").forEachRemaining(file -> below.add(file.path()));
    assertEquals(List.of("a/z/1"), below);
  }

  @Test
  void aFileThatCameInPlaceOfAnotherIsNotRemovedForIt() throws IOException {
    StagedFile first = put("a.csv", "one".getBytes());
    StagedFile second = put("a.csv", "three".getBytes());
    depot().remove(first);
    assertEquals(Optional.of(second.version()), depot().look("a.csv").map(StagedFile::version));
    depot().remove(second);
    assertEquals(List.of(), paths(""));
    depot().remove(second);
  }

  @Test
  void movedFilesAreElsewhereWithTheirContentAndOthersAreNotTouched() throws IOException {
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
  void aMovedFileNeverReplacesAnother() throws IOException {
    StagedFile file = put("a.csv", "ours".getBytes());
    StagedFile there = put("done/a.csv", "somebody else's".getBytes());
    assertFalse(depot().move(file, "done/a.csv"));
    assertEquals(there.version(), depot().look("done/a.csv").orElseThrow().version());
    assertEquals(file.version(), depot().look("a.csv").orElseThrow().version());
    assertTrue(depot().move(file, "done/a.csv.1"));
    assertEquals(List.of("done/a.csv", "done/a.csv.1"), paths(""));
  }

  @Test
  void theListingAgreesWithLookingAtOneFile() throws IOException {
    put("a/1", random(1234));
    StagedFile listed = depot().list("").next();
    StagedFile looked = depot().look("a/1").orElseThrow();
    assertEquals(looked.version(), listed.version());
    assertEquals(1234, listed.size());
  }

  @Test
  void emptyFilesAreFilesToo() throws IOException {
    StagedFile staged = put("empty", new byte[0]);
    try (InputStream in = depot().open(staged)) {
      assertEquals(-1, in.read());
    }
  }

  @Test
  void aFileThatIsNotThereIsNotThere() {
    assertEquals(Optional.empty(), depot().look("none"));
  }

  @Test
  void removedFilesAreGone() throws IOException {
    put("a", random(10));
    depot().remove("a");
    assertEquals(List.of(), paths(""));
    depot().remove("a");
  }

  @Test
  void otherContentIsAnotherVersion() throws IOException {
    StagedFile first = put("a", "one".getBytes());
    StagedFile second = put("a", "three".getBytes());
    assertNotEquals(first.version(), second.version());
    Failure failure =
        assertThrows(
            Failure.class,
            () -> {
              try (InputStream in = depot().open(first)) {
                in.readAllBytes();
              }
            });
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertTrue(failure.getMessage().contains("changed since it was listed"), failure.getMessage());
  }

  @Test
  void sameMeansSameContent() throws IOException {
    StagedFile staged = put("a", "12345".getBytes());
    assertTrue(depot().same(staged, file("l", "12345".getBytes())));
    assertFalse(depot().same(staged, file("l", "12346".getBytes())));
    assertFalse(depot().same(staged, file("l", "1234".getBytes())));
  }

  @Test
  void stagingPassesOverWhatIsThereAndLeavesOtherContentAlone() throws IOException {
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
  void manyNewFilesAreStagedWithoutALookAtEach() throws IOException {
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
  void aFileBesideAFolderOfItsNameIsNotOverlooked() throws IOException {
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
  void allRightsPassTheProbe() throws IOException {
    put("a", random(10));
    depot().probe().forEach(step -> assertTrue(step.attempt().run().tried(), step.name()));
    assertEquals(List.of("a"), paths(""));
  }
}
