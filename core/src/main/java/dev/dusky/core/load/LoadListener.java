package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;

/**
 * Follows the progress of a load. Files that are loaded at the same time start and progress on
 * worker threads; all else comes from the thread that runs the load, files in the order of names.
 */
public interface LoadListener {

  /** A load has begun. */
  default void begun(long loadId) {}

  /** A file is being read. */
  default void started(StagedFile file) {}

  /**
   * Some more of the current file is done.
   *
   * @param rows records read of it so far
   * @param storedBytes bytes taken of it from the depot so far
   */
  default void progress(StagedFile file, long rows, long storedBytes) {}

  /** Something happened that people should know and that stops nothing. */
  default void remark(String text) {}

  /** A file is settled, or was skipped for a reason worth reporting. */
  default void finished(FileResult result) {}
}
