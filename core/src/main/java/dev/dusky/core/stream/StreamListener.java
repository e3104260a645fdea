package dev.dusky.core.stream;

/** Follows a stream, from several threads. */
public interface StreamListener {

  /**
   * A file is in the depot.
   *
   * @param path its path there
   * @param records how many records it has
   * @param bytes its stored bytes
   */
  void staged(String path, long records, long bytes);

  /**
   * Something needs a person's attention, but nothing was lost.
   *
   * @param what what it is, in a sentence or two
   */
  void remark(String what);

  /** The depot did not take a file; it is tried again. */
  void waiting(String path, String why);
}
