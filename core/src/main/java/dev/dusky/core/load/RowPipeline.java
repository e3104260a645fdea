package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;

/**
 * Reads and types a file's rows on two threads while the caller writes them on its own. Between the
 * threads stand bounded queues of recycled batches, so memory is constant.
 */
public final class RowPipeline implements AutoCloseable {

  private static final int DEPTH = 3;
  private static final int BATCH_BYTES = 256 << 10;

  /** What travels through a queue when there are no more batches: why. */
  private record End(Throwable failure) {}

  private final RecordReader reader;
  private final Binder binder;
  private final BlockingQueue<RecordBatch> emptyRecords = new ArrayBlockingQueue<>(DEPTH);
  private final BlockingQueue<Object> fullRecords = new ArrayBlockingQueue<>(DEPTH + 1);
  private final BlockingQueue<RowBatch> emptyRows = new ArrayBlockingQueue<>(DEPTH);
  private final BlockingQueue<Object> fullRows = new ArrayBlockingQueue<>(DEPTH + 1);
  private final Thread readerThread = new Thread(this::readAll, "dusky-reader");
  private final Thread binderThread = new Thread(this::bindAll, "dusky-binder");

  /** Starts reading. The reader is closed with the pipeline. */
  public RowPipeline(RecordReader reader, Binder binder) {
    this.reader = reader;
    this.binder = binder;
    for (int i = 0; i < DEPTH; i++) {
      emptyRecords.add(new RecordBatch(BATCH_BYTES));
      emptyRows.add(binder.newBatch());
    }
    readerThread.setDaemon(true);
    binderThread.setDaemon(true);
    readerThread.start();
    binderThread.start();
  }

  private void readAll() {
    Throwable failure = null;
    try {
      while (true) {
        RecordBatch batch = emptyRecords.take();
        if (!reader.read(batch)) {
          break;
        }
        fullRecords.put(batch);
      }
    } catch (Throwable e) { // whatever it is, it must reach the caller of next()
      failure = e;
    }
    fullRecords.offer(new End(failure));
  }

  private void bindAll() {
    Throwable failure = null;
    try {
      while (true) {
        Object item = fullRecords.take();
        if (item instanceof End end) {
          failure = end.failure();
          break;
        }
        RecordBatch records = (RecordBatch) item;
        RowBatch rows = emptyRows.take();
        binder.bind(records, rows);
        emptyRecords.put(records);
        fullRows.put(rows);
      }
    } catch (Throwable e) { // whatever it is, it must reach the caller of next()
      failure = e;
    }
    fullRows.offer(new End(failure));
  }

  /**
   * The next batch of rows, to be given back with {@link #recycle}; null at the end of the file.
   * Whatever stopped the reading is thrown here.
   */
  public RowBatch next() throws IOException, InterruptedException {
    Object item = fullRows.take();
    if (item instanceof RowBatch rows) {
      return rows;
    }
    Throwable failure = ((End) item).failure();
    fullRows.add(item);
    if (failure == null) {
      return null;
    }
    if (failure instanceof IOException e) {
      throw e;
    }
    if (failure instanceof InterruptedException e) {
      throw e;
    }
    if (failure instanceof Error e) {
      throw e;
    }
    throw (RuntimeException) failure;
  }

  /** Gives a batch back for reuse. */
  public void recycle(RowBatch batch) {
    emptyRows.add(batch);
  }

  /** Stops both threads, waits for them and closes the reader. */
  @Override
  public void close() {
    readerThread.interrupt();
    binderThread.interrupt();
    try {
      reader.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      join(readerThread);
      join(binderThread);
    }
  }

  private static void join(Thread thread) {
    boolean interrupted = false;
    while (thread.isAlive()) {
      try {
        thread.join();
      } catch (InterruptedException e) {
        interrupted = true;
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
  }
}
