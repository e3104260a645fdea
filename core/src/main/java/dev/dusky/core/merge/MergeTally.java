package dev.dusky.core.merge;

/**
 * The account of a merge in landed rows: {@code landed = inserted + updated + unchanged +
 * superseded + deleted + rejected}. What went from the target because a snapshot lacks it came with
 * no landed row and is counted beside it.
 *
 * @param landed rows taken from the source
 * @param inserted rows whose key was not there
 * @param updated rows that changed what is there, or added a version to it
 * @param unchanged rows that say what exists already
 * @param superseded rows that give way to a later one of their key, or to what is there
 * @param deleted rows that said that their key is gone, and took it away
 * @param rejected rows that could not be merged
 * @param missing keys that went because a snapshot lacks them
 */
public record MergeTally(
    long landed,
    long inserted,
    long updated,
    long unchanged,
    long superseded,
    long deleted,
    long rejected,
    long missing) {

  /** Nothing landed. */
  public static final MergeTally NONE = new MergeTally(0, 0, 0, 0, 0, 0, 0, 0);

  /** Whether every landed row is accounted for. */
  public boolean balanced() {
    return landed == inserted + updated + unchanged + superseded + deleted + rejected;
  }

  /** Whether the target is as it was. */
  public boolean idle() {
    return inserted + updated + deleted + missing == 0;
  }

  /** Both accounts together. */
  public MergeTally plus(MergeTally other) {
    return new MergeTally(
        landed + other.landed,
        inserted + other.inserted,
        updated + other.updated,
        unchanged + other.unchanged,
        superseded + other.superseded,
        deleted + other.deleted,
        rejected + other.rejected,
        missing + other.missing);
  }
}
