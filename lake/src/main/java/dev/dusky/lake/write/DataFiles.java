package dev.dusky.lake.write;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.feed.Feed;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.Table;

/**
 * Writes rows into new data files of a table, each of about {@link #TARGET_BYTES}. The files belong
 * to the table only after a commit that names them; until then {@link #discard} removes them.
 *
 * <p>Encoding takes longer than reading and typing. So once there are many rows, half of each batch
 * is encoded on a second thread into a data file apart, unless the table is divided anyway; within
 * both the rows keep their order.
 */
public final class DataFiles {

  /** A data file is closed once it has this size. */
  static final long TARGET_BYTES = 256L << 20;

  /** Behind this many rows two threads encode. */
  static final long MANY_ROWS = 100_000;

  private final Table table;
  private final Feed feed;
  private final long target;
  private final boolean twice;
  private final DataLane first;
  private DataLane second;
  private ExecutorService thread;
  private long written;

  /** New data files of that table for rows of a feed. */
  public DataFiles(Table table, Feed feed) {
    this.table = table;
    this.feed = feed;
    this.target = TARGET_BYTES;
    this.twice = table.spec().isUnpartitioned() && Runtime.getRuntime().availableProcessors() > 1;
    this.first = new DataLane(table, feed, target);
  }

  /**
   * Writes rows of a batch with their provenance.
   *
   * @param rows the rows' places in the batch
   * @param count how many of them are to be written
   */
  public void write(RowBatch batch, int[] rows, int count, long load, long file) {
    written += count;
    if (second == null && twice && written > MANY_ROWS) {
      second = new DataLane(table, feed, target);
      thread =
          Executors.newSingleThreadExecutor(
              work -> {
                Thread encoder = new Thread(work, "dusky-encode");
                encoder.setDaemon(true);
                return encoder;
              });
    }
    if (second == null) {
      first.write(batch, rows, 0, count, load, file);
      return;
    }
    int half = count / 2;
    Future<?> other = thread.submit(() -> second.write(batch, rows, half, count, load, file));
    try {
      first.write(batch, rows, 0, half, load, file);
    } finally {
      await(other); // the batch is used again once this returns
    }
  }

  /** Waits whatever happens; an interrupt is kept until then. */
  private static void await(Future<?> work) {
    boolean interrupted = false;
    try {
      while (true) {
        try {
          work.get();
          return;
        } catch (InterruptedException e) {
          interrupted = true;
        } catch (ExecutionException e) {
          if (e.getCause() instanceof RuntimeException failure) {
            throw failure;
          }
          throw (Error) e.getCause();
        }
      }
    } finally {
      if (interrupted) {
        Thread.currentThread().interrupt();
      }
    }
  }

  /** Ends writing and gives the data files; none if there were no rows. */
  public List<DataFile> finish() {
    List<DataFile> all = new ArrayList<>();
    if (second == null) {
      all.addAll(first.finish());
    } else {
      List<DataFile> others = new ArrayList<>();
      Future<?> other = thread.submit(() -> others.addAll(second.finish()));
      try {
        all.addAll(first.finish());
      } finally {
        await(other);
      }
      all.addAll(others);
    }
    rest();
    return all;
  }

  /** Removes what was written. */
  public void discard() {
    try {
      first.discard();
    } finally {
      if (second != null) {
        second.discard();
      }
      rest();
    }
  }

  private void rest() {
    if (thread != null) {
      thread.shutdown();
      thread = null;
    }
  }
}
