package dev.dusky.core.failure;

import dev.dusky.core.text.SafeText;

/**
 * Something that stops a command, told as a person needs it: what failed and where, why, and what
 * to do next. The kind decides the exit code.
 */
public final class Failure extends RuntimeException {

  private final Kind kind;
  private final String what;
  private final String why;
  private final String next;
  private final boolean passing;

  private Failure(
      Kind kind, String what, String why, String next, boolean passing, Throwable cause) {
    super(what, cause);
    this.kind = kind;
    this.what = SafeText.line(what);
    // Of a configuration or an expression it shows a line and points at what is wrong with it.
    boolean points = kind == Kind.CONFIGURATION || kind == Kind.USAGE;
    this.why = points ? SafeText.block(why) : SafeText.line(why);
    this.next = SafeText.block(next); // may have a statement of several lines
    this.passing = passing;
  }

  /** A failure with its headline; add {@link #because} and {@link #next} to complete it. */
  public static Failure of(Kind kind, String what) {
    return new Failure(kind, what, "", "", false, null);
  }

  /** A file that cannot be loaded as it is. */
  public static Failure file(String what) {
    return of(Kind.FILE, what);
  }

  /** Arguments that make no sense. */
  public static Failure usage(String what) {
    return of(Kind.USAGE, what);
  }

  /** A configuration that cannot be followed. */
  public static Failure configuration(String what) {
    return of(Kind.CONFIGURATION, what);
  }

  /** A depot that cannot be reached, listed, read or written. */
  public static Failure depot(String what) {
    return of(Kind.DEPOT, what);
  }

  /** A warehouse that cannot be reached or refuses. */
  public static Failure warehouse(String what) {
    return of(Kind.WAREHOUSE, what);
  }

  /** The same failure with its reason. */
  public Failure because(String reason) {
    return with(what, reason, next, passing, getCause());
  }

  /** The same failure with the way out. */
  public Failure next(String advice) {
    return with(what, why, advice, passing, getCause());
  }

  /** The same failure with the exception behind it, shown by {@code --debug}. */
  public Failure from(Throwable cause) {
    return with(what, why, next, passing, cause);
  }

  /** The same failure as one that passes by itself: the same work succeeds when it is repeated. */
  public Failure asPassing() {
    return with(what, why, next, true, getCause());
  }

  private Failure with(
      String newWhat, String newWhy, String newNext, boolean newPassing, Throwable cause) {
    Failure failure = new Failure(kind, newWhat, newWhy, newNext, newPassing, cause);
    failure.setStackTrace(getStackTrace());
    return failure;
  }

  /** What sort of failure this is. */
  public Kind kind() {
    return kind;
  }

  /** Whether the same work is likely to succeed when it is repeated at once. */
  public boolean passing() {
    return passing;
  }

  /** The headline: what failed, and where. */
  public String what() {
    return what;
  }

  /** The reason, or an empty string. */
  public String why() {
    return why;
  }

  /** What to do next, or an empty string. */
  public String next() {
    return next;
  }

  /** The whole of it in one paragraph. */
  @Override
  public String getMessage() {
    StringBuilder text = new StringBuilder(what);
    if (!why.isEmpty()) {
      text.append(": ").append(why);
    }
    if (!text.toString().endsWith(".")) {
      text.append('.');
    }
    if (!next.isEmpty()) {
      text.append(' ').append(next);
      if (!next.endsWith(".") && !next.endsWith("?")) {
        text.append('.');
      }
    }
    return text.toString();
  }

  /** The sorts of failure and the exit code of each. */
  public enum Kind {
    /** A file was refused, or rejects are open beyond tolerance. */
    FILE(1),
    /** The command line is wrong. */
    USAGE(2),
    /** The configuration is wrong. */
    CONFIGURATION(3),
    /** A depot failed. */
    DEPOT(4),
    /** The warehouse failed. */
    WAREHOUSE(5),
    /** The books do not balance. */
    BOOKS(6),
    /** The program itself failed, in a way that nobody foresaw. */
    UNEXPECTED(70),
    /** Someone stopped the command. */
    INTERRUPTED(130);

    private final int exitCode;

    Kind(int exitCode) {
      this.exitCode = exitCode;
    }

    /** The process exit code for this kind. */
    public int exitCode() {
      return exitCode;
    }
  }
}
