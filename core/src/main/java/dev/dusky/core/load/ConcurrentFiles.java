package dev.dusky.core.load;

/**
 * The files that are loaded at the same time as one.
 *
 * @param atOnce how many there are at most, the file itself counted
 * @param turn waits until those before it, in the order of names, are settled
 * @param repeats what is known of rows that went by
 */
record ConcurrentFiles(int atOnce, Turn turn, LoadRepeats repeats) {

  private static final Turn ALWAYS =
      new Turn() {
        @Override
        public void await() {}

        @Override
        public boolean lost() {
          return false;
        }
      };

  /** Comes when it may be settled what becomes of a file. */
  interface Turn {
    /** Waits; fails if it never comes. */
    void await() throws InterruptedException;

    /** Whether it will never come, since a file before failed. */
    boolean lost();
  }

  /** None: one file after the other. */
  static ConcurrentFiles none(LoadRepeats repeats) {
    return new ConcurrentFiles(1, ALWAYS, repeats);
  }
}
