package dev.dusky.core.failure;

import java.util.regex.Pattern;

/**
 * The message of a library about a fault in a file, cleaned for display: its first line, without
 * names of classes, identities of objects and places on this machine, none of which are in the
 * file.
 */
public final class LibraryWords {

  private static final Pattern OBJECT =
      Pattern.compile("(?:[\\p{L}_$][\\w$]*\\.)*[\\p{L}_$][\\w$]*@[0-9a-f]{4,16}\\b");
  private static final Pattern THROWN =
      Pattern.compile("\\b(?:[a-z]\\w*\\.)+[A-Z][\\w$]*(?:Exception|Error)\\b:?\\s*");
  private static final Pattern CLASS = Pattern.compile("\\b(?:[a-z]\\w*\\.){2,}[A-Z][\\w$]*\\b");
  private static final Pattern OURS = Pattern.compile("(?:file:)?/+content\\.orc\\b");

  private LibraryWords() {}

  /** The words of what was thrown; if it has none, that the content is malformed. */
  public static String of(Throwable thrown) {
    String message = thrown.getMessage() == null ? "" : thrown.getMessage();
    String first = message.lines().findFirst().orElse("");
    String temporary = System.getProperty("java.io.tmpdir");
    if (temporary != null && temporary.length() > 1) {
      String place = Pattern.quote(temporary) + "[/\\\\][^\\s'\")\\]]*";
      first = first.replaceAll(place, "its temporary copy");
    }
    first = OURS.matcher(first).replaceAll("the file");
    first = OBJECT.matcher(first).replaceAll("the file");
    first = THROWN.matcher(first).replaceAll("");
    first = CLASS.matcher(first).replaceAll("the reader").strip();
    return first.isEmpty() || first.equals("null")
        ? "its content is malformed (" + thrown.getClass().getSimpleName() + ")"
        : first;
  }
}
