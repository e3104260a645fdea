package dev.dusky.core.tally;

/**
 * The account of a file or a load in rows. It balances when {@code read = loaded + duplicate +
 * rejected + filtered}; rows of a refused file that had their own fault are {@code withheld} and
 * are excluded from sums until the file is posted.
 */
public record Tally(
    long read, long loaded, long duplicate, long rejected, long filtered, long withheld) {

  /** Nothing read, nothing loaded. */
  public static final Tally NONE = new Tally(0, 0, 0, 0, 0, 0);

  /** The tally of a posted file. */
  public static Tally posted(long read, long loaded, long duplicate, long rejected, long filtered) {
    return new Tally(read, loaded, duplicate, rejected, filtered, 0);
  }

  /** The tally of a posted file without repeats. */
  public static Tally posted(long read, long loaded, long rejected, long filtered) {
    return posted(read, loaded, 0, rejected, filtered);
  }

  /** The tally of a file all of whose rows are in the table already. */
  public static Tally twin(long read) {
    return new Tally(read, 0, read, 0, 0, 0);
  }

  /** The tally of a refused file: nothing loaded, the faultless rows withheld. */
  public static Tally refused(long read, long rejected, long filtered) {
    return new Tally(read, 0, 0, rejected, filtered, read - rejected - filtered);
  }

  /** The same if its file is not loaded after all. */
  public Tally withheldAll() {
    return refused(read, rejected, filtered);
  }

  /** Whether every row read is accounted for. */
  public boolean balanced() {
    return read == loaded + duplicate + rejected + filtered + withheld;
  }

  /** Both accounts together. */
  public Tally plus(Tally other) {
    return new Tally(
        read + other.read,
        loaded + other.loaded,
        duplicate + other.duplicate,
        rejected + other.rejected,
        filtered + other.filtered,
        withheld + other.withheld);
  }
}
