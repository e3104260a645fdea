package dev.dusky.core.bytes;

import dev.dusky.core.failure.Failure;
import java.io.IOException;

/** The folder for what memory does not hold; it may be full, or not writable. */
public final class TemporaryFolder {

  private TemporaryFolder() {}

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
        .next(
            "Nothing unfinished was kept. Make room there, or name another one with"
                + " JAVA_TOOL_OPTIONS=-Djava.io.tmpdir=FOLDER, then run again")
        .from(e);
  }
}
