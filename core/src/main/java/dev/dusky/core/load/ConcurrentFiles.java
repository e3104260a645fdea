package dev.dusky.core.load;

/**
 * The state shared by files that are loaded concurrently.
 *
 * @param atOnce the maximum number of files at the same time, this one included
 * @param order when the file's outcome may be committed
 * @param repeats the rows seen so far
 */
record ConcurrentFiles(int atOnce, CommitOrder order, LoadRepeats repeats) {

  /** One file after the other. */
  static ConcurrentFiles none(LoadRepeats repeats) {
    return new ConcurrentFiles(1, CommitOrder.FIRST, repeats);
  }
}
