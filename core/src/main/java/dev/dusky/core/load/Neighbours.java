package dev.dusky.core.load;

/**
 * The files that are loaded at the same time as one.
 *
 * @param atOnce how many there are at most, the file itself counted
 * @param turn waits until those before it, in the order of names, are settled
 * @param repeats what is known of rows that went by
 */
record Neighbours(int atOnce, Turn turn, LoadRepeats repeats) {

  /** Comes when it may be settled what becomes of a file. */
  @FunctionalInterface
  interface Turn {
    /** Waits; fails if a file before it did. */
    void await() throws InterruptedException;
  }

  /** None: one file after the other. */
  static Neighbours none(LoadRepeats repeats) {
    return new Neighbours(1, () -> {}, repeats);
  }
}
