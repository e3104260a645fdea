package dev.dusky.core.feed;

/** How a file in the depot is handled once it is posted, or known as a twin. */
public sealed interface Afterwards {

  /** It stays where it is. */
  Afterwards LEAVE = new Leave();

  /** It stays where it is. */
  record Leave() implements Afterwards {}

  /** It is removed from the depot. */
  record Remove() implements Afterwards {}

  /**
   * It is moved.
   *
   * @param folder the folder of the same depot, ending with a slash
   */
  record Archive(String folder) implements Afterwards {

    /** Where a file goes: under its own path, below the folder. */
    public String target(String path) {
      return folder + path;
    }
  }
}
