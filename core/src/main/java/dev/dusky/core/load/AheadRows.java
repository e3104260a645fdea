package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;

/**
 * Reads and types a file's records on one thread ahead of the caller. Where another thread is busy
 * decompressing and there are no more processors, records that stay with the thread that found them
 * are typed faster than ones handed over.
 */
final class AheadRows implements RowSource {

  private static final int DEPTH = 3;
  private static final int BATCH_BYTES = 256 << 10;

  /** The end, with its reason. */
  private record End(Throwable failure) {}

  private final InlineRows rows;
  private final BlockingQueue<RowBatch> empty = new ArrayBlockingQueue<>(DEPTH);
  private final BlockingQueue<Object> full = new ArrayBlockingQueue<>(DEPTH + 1);
  private final Worker worker = new Worker("dusky-ahead", this::readAll);

  /**
   * Starts reading. The reader is closed with the rows.
   *
   * @param path how messages name the file
   */
  AheadRows(String path, RecordReader reader, Binder binder) {
    rows = new InlineRows(path, reader, binder, new RecordBatch(BATCH_BYTES));
    for (int i = 0; i < DEPTH; i++) {
      empty.add(binder.newBatch());
    }
    worker.start();
  }

  private void readAll() {
    Throwable failure = null;
    try {
      while (true) {
        RowBatch batch = empty.take();
        if (!rows.next(batch)) {
          break;
        }
        full.add(batch);
      }
    } catch (Throwable e) { // whatever it is, it must reach the caller of next()
      failure = e;
    }
    full.add(new End(failure)); // there is room for it behind all batches
  }

  @Override
  public RowBatch next() throws IOException, InterruptedException {
    Object item = full.take();
    if (item instanceof RowBatch batch) {
      return batch;
    }
    full.add(item);
    Throwable failure = ((End) item).failure();
    if (failure == null) {
      return null;
    }
    throw Worker.rethrow(failure);
  }

  @Override
  public void recycle(RowBatch batch) {
    empty.add(batch);
  }

  /** Stops the thread, waits for it and closes the reader. */
  @Override
  public void close() {
    worker.interrupt();
    worker.join();
    rows.close();
  }
}
