package dev.dusky.core.failure;

/** What a library says when one failure has another below it. */
public final class RootCause {

  private RootCause() {}

  /** What was thrown, and behind it what lies at the bottom, unless it says that already. */
  public static String words(Throwable thrown) {
    Throwable root = thrown;
    while (root.getCause() != null && root.getCause() != root) {
      root = root.getCause();
    }
    String message = said(thrown);
    String below = said(root);
    return message.contains(below) ? message : message + ": " + below;
  }

  private static String said(Throwable thrown) {
    return thrown.getMessage() == null ? thrown.getClass().getSimpleName() : thrown.getMessage();
  }
}
