package dev.dusky.core.failure;

import dev.dusky.core.text.SafeText;
import java.util.function.Function;

/**
 * The error that stops a command: what failed and where, why, and a hint what to do next. The
 * command line gives each kind its exit code.
 */
public final class Failure extends RuntimeException {

  private static final Hint NONE = Hint.of("");

  private final Kind kind;
  private final String what;
  private final String why;
  private final Hint hint;
  private final boolean passing;

  private Failure(Kind kind, String what, String why, Hint hint, boolean passing, Throwable cause) {
    super(what, cause);
    this.kind = kind;
    this.what = SafeText.line(what);
    // Of a configuration or an expression it shows a line and points at what is wrong with it.
    boolean points = kind == Kind.CONFIGURATION || kind == Kind.USAGE;
    this.why = points ? SafeText.block(why) : SafeText.line(why);
    this.hint = hint;
    this.passing = passing;
  }

  /** A failure with its headline; add {@link #because} and {@link #hint} to complete it. */
  public static Failure of(Kind kind, String what) {
    return new Failure(kind, what, "", NONE, false, null);
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
    return with(what, reason, hint, passing, getCause());
  }

  /**
   * The same failure with what to do next.
   *
   * @param text the advice; each {@code {}} is one of the commands, in their order
   * @param commands the commands to run
   */
  public Failure hint(String text, Invocation... commands) {
    return hint(Hint.of(text, commands));
  }

  /** The same failure with what to do next. */
  public Failure hint(Hint advice) {
    return with(what, why, advice, passing, getCause());
  }

  /** The same failure with the exception behind it, shown by {@code --debug}. */
  public Failure from(Throwable cause) {
    return with(what, why, hint, passing, cause);
  }

  /** The same failure as transient: the same work succeeds when it is repeated. */
  public Failure asPassing() {
    return with(what, why, hint, true, getCause());
  }

  private Failure with(
      String newWhat, String newWhy, Hint newHint, boolean newPassing, Throwable cause) {
    Failure failure = new Failure(kind, newWhat, newWhy, newHint, newPassing, cause);
    failure.setStackTrace(getStackTrace());
    return failure;
  }

  /** The kind of this failure. */
  public Kind kind() {
    return kind;
  }

  /** Whether the same work is likely to succeed when it is repeated immediately. */
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

  /** What to do next; its text may be empty. */
  public Hint hint() {
    return hint;
  }

  /** The whole failure in one paragraph, with commands as typed when the program is on the path. */
  @Override
  public String getMessage() {
    return message(Invocation::toString);
  }

  /** The whole failure in one paragraph, with the commands of its hint in the given wording. */
  public String message(Function<Invocation, String> wording) {
    StringBuilder text = new StringBuilder(what);
    if (!why.isEmpty()) {
      text.append(": ").append(why);
    }
    if (!text.toString().endsWith(".")) {
      text.append('.');
    }
    String advice = hint.words(wording);
    if (!advice.isEmpty()) {
      text.append(' ').append(advice);
      if (!advice.endsWith(".") && !advice.endsWith("?")) {
        text.append('.');
      }
    }
    return text.toString();
  }

  /** The sorts of failure. */
  public enum Kind {
    /** A file was refused, or rejects are open beyond tolerance. */
    FILE,
    /** The command line is wrong. */
    USAGE,
    /** The configuration is wrong. */
    CONFIGURATION,
    /** A depot failed. */
    DEPOT,
    /** The warehouse failed. */
    WAREHOUSE,
    /** The ledger does not balance. */
    LEDGER,
    /** The program itself failed, in an unexpected way. */
    UNEXPECTED,
    /** Someone stopped the command. */
    INTERRUPTED
  }
}
