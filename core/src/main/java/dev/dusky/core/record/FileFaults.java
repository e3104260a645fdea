package dev.dusky.core.record;

import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
import java.io.IOException;
import java.io.InterruptedIOException;
import java.nio.channels.ClosedByInterruptException;

/**
 * The boundary around everything that works on the content of one file: whatever is thrown there
 * becomes the refusal of that file, so that no file stops those behind it. Only failures of the
 * storage, stops, and a broken Java installation pass.
 */
public final class FileFaults {

  private FileFaults() {}

  /**
   * Turns errors that occur while a file is read or typed into failures of that file.
   *
   * @param path how messages name the file
   * @param where the place in the file, such as {@code behind record 12}
   * @throws IOException if it is the storage that failed, or the work was stopped
   */
  public static RuntimeException of(String path, String where, Throwable thrown)
      throws IOException {
    for (Throwable cause = thrown; cause != null; cause = cause.getCause()) {
      if (cause instanceof StorageException storage) {
        throw storage;
      }
      if (cause instanceof Failure failure) {
        return failure;
      }
      if (cause instanceof InterruptedIOException || cause instanceof ClosedByInterruptException) {
        throw (IOException) cause;
      }
    }
    if (thrown instanceof Error error && !ofContent(error)) {
      throw error;
    }
    boolean memory = thrown instanceof OutOfMemoryError;
    return Failure.file(path + " cannot be read")
        .because(
            where
                + ": "
                + (memory ? "it asks for more memory than the program has" : words(thrown)))
        .hint(
            "Nothing of it was loaded. Stage the file again, or ask the sender for a sound one;"
                + " --debug shows where it occurred")
        .from(thrown);
  }

  /** Errors that content can cause; others come from the program or the machine. */
  private static boolean ofContent(Error error) {
    return error instanceof OutOfMemoryError
        || error instanceof StackOverflowError
        || error instanceof AssertionError
        || error instanceof java.io.IOError;
  }

  private static String words(Throwable thrown) {
    if (thrown instanceof StackOverflowError) {
      return "it is nested too deeply";
    }
    return LibraryWords.of(thrown);
  }
}
