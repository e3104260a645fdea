package dev.dusky.depots.directory;

import dev.dusky.core.failure.Failure;
import java.nio.charset.Charset;

/**
 * A path of a directory with bytes in it that are not text in the encoding of file names. It is
 * shown with a replacement character for each, and the file cannot be found again by it.
 */
final class UnreadableName {

  private static final char REPLACEMENT = '\ufffd';

  private UnreadableName() {}

  static boolean is(String path) {
    return path.indexOf(REPLACEMENT) >= 0;
  }

  /** The refusal of such a file. */
  static Failure failure(String path) {
    String encoding = System.getProperty("sun.jnu.encoding", Charset.defaultCharset().name());
    return Failure.file(path + " has a name that cannot be read")
        .because("some of its bytes are not text in %s, as file names are here".formatted(encoding))
        .hint(
            "Rename it"
                + (encoding.equalsIgnoreCase("UTF-8")
                    ? ""
                    : ", or run with a locale of UTF-8, such as LC_ALL=C.UTF-8"));
  }
}
