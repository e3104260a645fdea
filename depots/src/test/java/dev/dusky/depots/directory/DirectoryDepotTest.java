package dev.dusky.depots.directory;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.DepotContract;
import dev.dusky.depots.OddPaths;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DirectoryDepotTest extends DepotContract {

  @TempDir Path root;
  private Depot depot;

  @BeforeEach
  void open() {
    depot = new DirectoryDepot("yard", root);
  }

  @Override
  protected List<String> oddPaths() {
    return OddPaths.with(path -> !OddPaths.resolved(path));
  }

  @Override
  protected Depot depot() {
    return depot;
  }

  @Test
  void hiddenAndUnfinishedFilesAreNotSeen() throws IOException {
    Files.writeString(root.resolve(".hidden"), "x");
    Files.writeString(root.resolve("a.csv" + DirectoryDepot.UNFINISHED), "x");
    Files.createDirectories(root.resolve(".git"));
    Files.writeString(root.resolve(".git/a"), "x");
    assertEquals(List.of(), paths(""));
  }

  @Test
  void aFileThatChangesWhileItIsReadIsNoticed() throws IOException {
    StagedFile staged = put("a", random(1000));
    try (InputStream in = depot.open(staged)) {
      in.readNBytes(500);
      Files.write(root.resolve("a"), random(2000));
      Failure failure = assertThrows(Failure.class, in::readAllBytes);
      assertTrue(failure.getMessage().contains("changed"), failure.getMessage());
    }
  }

  @Test
  void aFileWhoseNameCannotBeReadIsListedAndRefused() throws Exception {
    Files.createDirectories(root.resolve("in"));
    Process made =
        new ProcessBuilder("sh", "-c", "printf x > \"$(printf 'in/b\\377.csv')\"")
            .directory(root.toFile())
            .start();
    assumeTrue(made.waitFor() == 0, "this file system takes no such names");
    put("in/c.csv", "ours".getBytes());
    Iterator<StagedFile> files = depot.list("");
    StagedFile unreadable = files.next();
    assertEquals("in/c.csv", files.next().path());
    assertEquals(Optional.of(unreadable), depot.look(unreadable.path()));
    Failure failure = assertThrows(Failure.class, () -> depot.open(unreadable));
    assertEquals(Failure.Kind.FILE, failure.kind());
    assertTrue(failure.getMessage().contains("has a name that cannot be read"));
  }

  /** A file that is not there is removed only where one that is there could be. */
  @Test
  void removingNeedsTheRightEvenIfNothingIsThere() {
    assertTrue(root.toFile().setWritable(false));
    try {
      assumeTrue(!Files.isWritable(root), "this user may write everywhere");
      assertThrows(Failure.class, () -> depot.remove("none/x.csv"));
    } finally {
      root.toFile().setWritable(true);
    }
  }

  @Test
  void pathsCannotLeaveTheDepot() {
    assertThrows(Failure.class, () -> depot.look("../outside"));
    assertThrows(Failure.class, () -> depot.remove("."));
  }

  @Test
  void aMissingDirectoryIsToldAsSuch() {
    Depot missing = new DirectoryDepot("yard", root.resolve("nowhere"));
    Failure failure = assertThrows(Failure.class, () -> missing.list(""));
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertTrue(failure.getMessage().contains("is not a directory"), failure.getMessage());
  }
}
