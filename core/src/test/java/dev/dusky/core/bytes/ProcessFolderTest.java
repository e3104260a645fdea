package dev.dusky.core.bytes;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ProcessFolderTest {

  @TempDir Path parent;

  private Path left(String name, Instant since) throws IOException {
    Path folder = Files.createDirectories(parent.resolve(name + "/1"));
    Files.writeString(folder.resolve("a.content"), "x");
    Path lock = Files.createFile(parent.resolve(name + "/lock"));
    Files.setLastModifiedTime(lock, FileTime.from(since));
    return parent.resolve(name);
  }

  @Test
  void whatKilledProcessesLeftGoes() throws IOException {
    Path old = left("dusky-work-1", Instant.now().minusSeconds(3600));
    Path young = left("dusky-work-2", Instant.now());
    Path foreign = left("other-work-3", Instant.now().minusSeconds(3600));
    Path unlocked = Files.createDirectory(parent.resolve("dusky-work-4"));
    ProcessFolder ours = ProcessFolder.in(parent);
    assertFalse(Files.exists(old));
    assertTrue(Files.exists(young), "its process may not have locked it yet");
    assertTrue(Files.exists(foreign));
    assertTrue(Files.exists(unlocked));
    ours.remove();
  }

  @Test
  void whatIsHeldStaysAndGoesWithItsProcess() throws IOException {
    ProcessFolder first = ProcessFolder.in(parent);
    Files.writeString(first.path().resolve("a.content"), "x");
    Files.setLastModifiedTime(
        first.path().resolve("lock"), FileTime.from(Instant.now().minusSeconds(3600)));
    ProcessFolder second = ProcessFolder.in(parent);
    assertTrue(Files.exists(first.path().resolve("a.content")));
    first.remove();
    second.remove();
    try (var rest = Files.list(parent)) {
      assertEquals(0, rest.count());
    }
  }

  /** A separate process that holds a folder until it is killed. */
  static final class Holder {
    public static void main(String[] args) throws IOException {
      System.out.println(ProcessFolder.in(Path.of(args[0])).path());
      System.in.read();
    }
  }

  @Test
  void whatAnotherProcessHoldsStaysUntilItIsKilled() throws Exception {
    Process holder =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                Holder.class.getName(),
                parent.toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    Path held = Path.of(holder.inputReader().readLine());
    Files.setLastModifiedTime(
        held.resolve("lock"), FileTime.from(Instant.now().minusSeconds(3600)));
    ProcessFolder.in(parent).remove();
    assertTrue(Files.exists(held.resolve("lock")));
    holder.destroyForcibly().waitFor();
    ProcessFolder.in(parent).remove();
    assertFalse(Files.exists(held));
  }
}
