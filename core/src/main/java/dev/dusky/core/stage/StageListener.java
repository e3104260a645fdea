package dev.dusky.core.stage;

/** Told how a staging goes on, from several threads. */
public interface StageListener {

  /** What became of a file. */
  enum Outcome {
    /** It was stored. */
    STAGED("staged"),
    /** It was there already with the same content. */
    SAME("there already"),
    /** It was there with other content and was left alone. */
    DIFFERING("left alone");

    private final String label;

    Outcome(String label) {
      this.label = label;
    }

    /** The outcome in words. */
    public String label() {
      return label;
    }
  }

  /** So many more bytes are dealt with. */
  void sent(long bytes);

  /** A file is done. */
  void done(LocalFile file, Outcome outcome);
}
