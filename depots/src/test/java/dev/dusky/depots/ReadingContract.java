package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.probe.DepotProbe;
import dev.dusky.core.probe.DepotUse;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What every depot promises that files are read from, whatever is behind it. */
public abstract class ReadingContract {

  @TempDir protected Path local;

  /** The depot under test, empty for each test. */
  protected abstract Depot depot();

  /** Puts a file behind the depot, in place of one that is there. */
  protected abstract StagedFile given(String path, byte[] bytes) throws IOException;

  /** The odd paths that this kind of store can have. */
  protected List<String> oddPaths() {
    return OddPaths.ALL;
  }

  protected final Path file(String name, byte[] bytes) throws IOException {
    Path file = local.resolve(name);
    Files.createDirectories(file.getParent());
    return Files.write(file, bytes);
  }

  protected List<String> paths(String prefix) {
    List<String> paths = new ArrayList<>();
    depot().list(prefix).forEachRemaining(f -> paths.add(f.path()));
    return paths;
  }

  public static byte[] random(int length) {
    byte[] bytes = new byte[length];
    new Random(length).nextBytes(bytes);
    return bytes;
  }

  @Test
  protected void oddPathsAreListedInTheOrderOfTheirBytesAndRead() throws IOException {
    List<String> odd = new ArrayList<>(oddPaths());
    for (String path : odd) {
      given(path, path.getBytes(StandardCharsets.UTF_8));
    }
    odd.sort(
        Comparator.comparing(
            path -> path.getBytes(StandardCharsets.UTF_8), Arrays::compareUnsigned));
    assertEquals(odd, paths(""));
    for (String path : odd) {
      StagedFile file = depot().look(path).orElseThrow(() -> new AssertionError(path));
      try (InputStream in = depot().open(file)) {
        assertEquals(path, new String(in.readAllBytes(), StandardCharsets.UTF_8));
      }
    }
  }

  @Test
  protected void anyRangeOfAFileCanBeRead() throws IOException {
    byte[] bytes = random(100_000);
    StagedFile file = given("a.bin", bytes);
    Random random = new Random(7);
    for (int i = 0; i < 20; i++) {
      int from = random.nextInt(bytes.length);
      int length = 1 + random.nextInt(30_000);
      byte[] expected = Arrays.copyOfRange(bytes, from, Math.min(bytes.length, from + length));
      assertArrayEquals(expected, depot().bytes(file, from, length));
    }
  }

  @Test
  protected void theRightsToReadPassTheProbe() throws IOException {
    given("a", random(10));
    new DepotProbe(depot(), DepotUse.UNKNOWN, false)
        .steps()
        .forEach(step -> assertTrue(step.attempt().run().tried(), step.name()));
  }

  @Test
  protected void listingsGiveThePathsBelowAPrefixInTheOrderOfTheirBytes() throws IOException {
    for (String path : List.of("b/2", "a.csv", "a/1", "a/z/1", "a-b/1", "b/10", "c")) {
      given(path, path.getBytes());
    }
    assertEquals(List.of("a-b/1", "a.csv", "a/1", "a/z/1", "b/10", "b/2", "c"), paths(""));
    assertEquals(List.of("a/1", "a/z/1"), paths("a/"));
    assertEquals(List.of("b/10", "b/2"), paths("b"));
    assertEquals(List.of("b/10"), paths("b/1"));
    assertEquals(List.of(), paths("zzz"));
  }

  @Test
  protected void listingsCanBeginBehindAnyPath() throws IOException {
    List<String> all = List.of("a-b/1", "a.csv", "a/1", "a/z/1", "b/10", "b/2", "c");
    for (String path : all) {
      given(path, path.getBytes());
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
  protected void theListingAgreesWithLookingAtOneFile() throws IOException {
    given("a/1", random(1234));
    StagedFile listed = depot().list("").next();
    StagedFile looked = depot().look("a/1").orElseThrow();
    assertEquals(looked.version(), listed.version());
    assertEquals(1234, listed.size());
  }

  @Test
  protected void emptyFilesAreFilesToo() throws IOException {
    StagedFile staged = given("empty", new byte[0]);
    try (InputStream in = depot().open(staged)) {
      assertEquals(-1, in.read());
    }
  }

  @Test
  protected void aFileThatIsNotThereIsNotThere() {
    assertEquals(Optional.empty(), depot().look("none"));
  }

  @Test
  protected void otherContentIsAnotherVersion() throws IOException {
    StagedFile first = given("a", "one".getBytes());
    StagedFile second = given("a", "three".getBytes());
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
  protected void sameMeansSameContent() throws IOException {
    StagedFile staged = given("a", "12345".getBytes());
    assertTrue(depot().same(staged, file("l", "12345".getBytes())));
    assertFalse(depot().same(staged, file("l", "12346".getBytes())));
    assertFalse(depot().same(staged, file("l", "1234".getBytes())));
  }
}
