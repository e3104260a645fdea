package dev.dusky.depots.probe;

import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep.Finding;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.UUID;

/** The rights that every depot tries in the same way. */
public final class ProbeSteps {

  private ProbeSteps() {}

  public static Finding list(Depot depot) {
    Iterator<StagedFile> files = depot.list("");
    return Finding.passed(
        files.hasNext() ? "first file is " + files.next().path() : "no files yet");
  }

  public static Finding read(Depot depot) {
    Iterator<StagedFile> files = depot.list("");
    if (!files.hasNext()) {
      return Finding.untried("no file to try it on");
    }
    StagedFile file = files.next();
    try (InputStream in = depot.open(file)) {
      in.read();
      return Finding.passed("first byte of " + file.path() + " read");
    } catch (IOException e) {
      throw Failure.depot("Reading " + file.path() + " failed")
          .because(String.valueOf(e.getMessage()))
          .from(e);
    }
  }

  public static Finding write(Depot depot) {
    String path = "dusky-probe-" + UUID.randomUUID();
    try {
      Path local = TemporaryFolder.newFile(".probe");
      try {
        Files.writeString(local, "written by dusky probe; may be removed\n");
        depot.put(path, local);
      } finally {
        Files.delete(local);
      }
    } catch (IOException e) {
      throw Failure.depot("A temporary file could not be made")
          .because(String.valueOf(e.getMessage()))
          .from(e);
    }
    depot.remove(path);
    return Finding.passed("a small file put and removed again");
  }
}
