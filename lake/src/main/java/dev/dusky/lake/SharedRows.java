package dev.dusky.lake;

import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.lake.write.DataFiles;
import java.util.List;
import java.util.Optional;

/**
 * The rows of one file in data files that others share. They cannot be taken out of them: undoing
 * them spoils all.
 */
final class SharedRows implements LandingChange {

  private final Landing landing;
  private final LakeFailures failures;
  private final DataFiles files;
  private final long load;
  private final long file;
  private final Runnable spoilt;
  private boolean writing;

  /**
   * The rows of a file.
   *
   * @param spoilt runs once rows are undone that were written
   */
  SharedRows(
      Landing landing,
      LakeFailures failures,
      DataFiles files,
      long load,
      long file,
      Runnable spoilt) {
    this.landing = landing;
    this.failures = failures;
    this.files = files;
    this.load = load;
    this.file = file;
    this.spoilt = spoilt;
  }

  @Override
  public RowWriter writer() {
    writing = true;
    return new LakeRowWriter(landing, failures, Optional.of(files), load, file);
  }

  @Override
  public void undo() {
    if (writing) {
      spoilt.run();
    }
  }

  @Override
  public void hold() {
    throw new IllegalStateException("repeats across files are detected file by file");
  }

  @Override
  public void rows(List<String> columns, LandedRows taker) {
    throw new IllegalStateException("repeats across files are detected file by file");
  }
}
