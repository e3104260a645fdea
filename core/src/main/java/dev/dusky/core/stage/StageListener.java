package dev.dusky.core.stage;

/** Follows the progress of a staging, from several threads. */
public interface StageListener {

  /** The outcome of a file. */
  enum Outcome {
    /** It was stored. */
    STAGED("staged"),
    /** It was there already with the same content. */
    SAME("there already"),
    /** It was there with other content and was left alone. */
    DIFFERING("left alone"),
    /** It could not be read, or not be removed once it was stored. */
    UNREADABLE("failed");

    private final String label;

    Outcome(String label) {
      this.label = label;
    }

    /** Whether the depot has the file's content now. */
    public boolean good() {
      return this == STAGED || this == SAME;
    }

    /** The outcome in words. */
    public String label() {
      return label;
    }
  }

  /** More bytes were sent or compared. */
  void sent(long bytes);

  /**
   * A file is done.
   *
   * @param why what was wrong, or an empty text
   */
  void done(LocalFile file, Outcome outcome, String why);
}
