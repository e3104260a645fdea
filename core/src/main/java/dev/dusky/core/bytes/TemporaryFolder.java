package dev.dusky.core.bytes;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The folder for what memory does not hold; it may be full, or not writable. */
public final class TemporaryFolder {

  private static ProcessFolder ours;
  private static volatile Runnable work = () -> {};

  private TemporaryFolder() {}

  /** A new file there that its maker removes, or the next process if this one is killed. */
  public static Path newFile(String ending) throws IOException {
    return Files.createTempFile(ours(), "", ending);
  }

  /** A new folder there, likewise. */
  public static Path newFolder() throws IOException {
    return Files.createTempDirectory(ours(), "");
  }

  private static synchronized Path ours() throws IOException {
    if (ours == null || !Files.isDirectory(ours.path())) {
      ProcessFolder made = ProcessFolder.in(Path.of(place()));
      try {
        Runtime.getRuntime().addShutdownHook(new Thread(() -> remove(made), "dusky-temporary"));
      } catch (IllegalStateException theProgramIsEnding) {
        // The next process removes it.
      }
      ours = made;
    }
    return ours.path();
  }

  /**
   * Keeps the folder when the process is stopped until that returns: work that is being finished
   * then may still need it.
   */
  public static void keepUntil(Runnable workEnds) {
    work = workEnds;
  }

  private static void remove(ProcessFolder folder) {
    work.run();
    try {
      folder.remove();
    } catch (IOException nobodyIsLeftToBeTold) {
      // The program is ending, and the next one removes what is left.
    }
  }

  /** Where it is. */
  public static String place() {
    return System.getProperty("java.io.tmpdir");
  }

  /**
   * The failure when something there cannot be kept or read back.
   *
   * @param doing what could not be done, as a message begins with it
   */
  public static Failure failure(String doing, IOException e) {
    return Failure.of(Failure.Kind.UNEXPECTED, doing + " failed")
        .because("the temporary folder %s: %s".formatted(place(), e.getMessage()))
        .hint(
            "Unfinished work was rolled back. Free space there, or name another one with"
                + " JAVA_TOOL_OPTIONS=-Djava.io.tmpdir=FOLDER, then run again")
        .from(e);
  }
}
