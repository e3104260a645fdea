package dev.dusky.depots.probe;

/**
 * A request to a store.
 *
 * @param doing the work in words, as a message begins with it
 * @param right the right that it needs
 * @param signed whether it was sent with credentials
 */
public record StoreRequest(String doing, Right right, boolean signed) {

  /** The right that a request needs. */
  public enum Right {
    /** Listing what is there. */
    LIST("list files"),
    /** Reading files. */
    READ("read files"),
    /** Storing and removing files. */
    WRITE("write files");

    private final String words;

    Right(String words) {
      this.words = words;
    }

    /** The right in words. */
    public String words() {
      return words;
    }
  }
}
