package dev.dusky.warehouses.script;

import java.util.Optional;

/**
 * One run of a merge, as its statements need to know it.
 *
 * @param mergeId its number in the ledger
 * @param retry whether rejected rows are taken again, and no new ones
 * @param newer the column of the source that is compared with the high water, or an empty text
 * @param highWater the greatest value in the target, as SQL; only rows beyond it are taken
 * @param twice whether the target has keys more than once, listed in a scratch table
 * @param sweep whether rows that the snapshot lacks are deleted
 * @param file the one file to merge, if they are merged one by one
 * @param onePass whether a statement may write while it judges
 * @param sums whether that statement can also sum the values that it writes and replaces
 */
public record MergeRequest(
    long mergeId,
    boolean retry,
    String newer,
    Optional<String> highWater,
    boolean twice,
    boolean sweep,
    Optional<PostedFile> file,
    boolean onePass,
    boolean sums) {

  /**
   * A file as one load posted it.
   *
   * @param whole whether it was posted as such; else these are rows of it that were mended later
   */
  public record PostedFile(long loadId, long fileId, String path, boolean whole) {}
}
