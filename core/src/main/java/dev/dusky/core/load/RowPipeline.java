package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FileFaults;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.function.Supplier;

/**
 * Reads a file's records on one thread and types them on others while the caller writes the rows on
 * its own. The batches go to the binders in turn and are taken from them in turn, so rows keep the
 * order of the file. Between the threads stand bounded queues of recycled batches, so memory is
 * constant.
 */
public final class RowPipeline implements RowSource {

  private static final int DEPTH = 2;
  private static final int MOST_BINDERS = 16;
  private static final int BATCH_BYTES = 256 << 10;

  /** The end of a queue of batches, with its reason. */
  private record End(Throwable failure) {}

  /** One binder with its thread and queues. */
  private final class Lane {
    private final Binder binder;
    private final FieldSplitter splitter = reader.splitter();
    private final BlockingQueue<Object> records = new ArrayBlockingQueue<>(DEPTH + 1);
    private final BlockingQueue<RowBatch> empty = new ArrayBlockingQueue<>(DEPTH);
    private final BlockingQueue<Object> rows = new ArrayBlockingQueue<>(DEPTH + 1);
    private final Worker worker = new Worker("dusky-binder", this::bindAll);
    private int made;

    Lane(Binder binder) {
      this.binder = binder;
    }

    /** A batch that is free; a short file needs fewer than a long one. */
    private RowBatch emptyBatch() throws InterruptedException {
      RowBatch free = empty.poll();
      if (free == null && made < DEPTH) {
        made++;
        return binder.newBatch();
      }
      return free == null ? empty.take() : free;
    }

    private void bindAll() {
      Throwable failure = null;
      try {
        while (true) {
          Object item = records.take();
          if (item instanceof End end) {
            failure = end.failure();
            break;
          }
          RecordBatch batch = (RecordBatch) item;
          RowBatch bound = emptyBatch();
          bind(batch, bound);
          emptyRecords.put(batch);
          rows.put(bound);
        }
      } catch (Throwable e) { // whatever it is, it must reach the caller of next()
        failure = e;
      }
      rows.offer(new End(failure));
    }

    private void bind(RecordBatch batch, RowBatch bound) throws IOException {
      try {
        binder.bind(splitter.split(batch), bound);
      } catch (Throwable e) { // nothing in a file may stop those behind it
        throw FileFaults.of(path, "while its records were typed", e);
      }
    }
  }

  private final String path;
  private final RecordReader reader;
  private final List<Lane> lanes = new ArrayList<>();
  private final BlockingQueue<RecordBatch> emptyRecords;
  private final Worker readerWorker = new Worker("dusky-reader", this::readAll);
  private int made;
  private int turn;
  private long numbered;

  /**
   * Starts reading. The reader is closed with the pipeline.
   *
   * @param path how messages name the file
   * @param binders gives its own binder for each thread
   */
  public RowPipeline(String path, RecordReader reader, Supplier<Binder> binders) {
    this.path = path;
    this.reader = reader;
    int count = Math.min(MOST_BINDERS, Runtime.getRuntime().availableProcessors());
    emptyRecords = new ArrayBlockingQueue<>(count * DEPTH);
    for (int i = 0; i < count; i++) {
      lanes.add(new Lane(binders.get()));
    }
    readerWorker.start();
    lanes.forEach(lane -> lane.worker.start());
  }

  private void readAll() {
    Throwable failure = null;
    try {
      for (int i = 0; true; i++) {
        RecordBatch batch = emptyBatch();
        if (!reader.read(batch)) {
          break;
        }
        lanes.get(i % lanes.size()).records.put(batch);
      }
    } catch (Throwable e) { // whatever it is, it must reach the caller of next()
      failure = e;
    }
    End end = new End(failure);
    for (Lane lane : lanes) {
      tell(lane, end);
    }
  }

  /** A batch that is free; a short file needs fewer than a long one. */
  private RecordBatch emptyBatch() throws InterruptedException {
    RecordBatch free = emptyRecords.poll();
    if (free == null && made < lanes.size() * DEPTH) {
      made++;
      return new RecordBatch(BATCH_BYTES);
    }
    return free == null ? emptyRecords.take() : free;
  }

  /** Waits for room unless the pipeline is being closed. */
  private static void tell(Lane lane, End end) {
    try {
      lane.records.put(end);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt(); // closed: there is no reader
    }
  }

  @Override
  public RowBatch next() throws IOException, InterruptedException {
    Lane lane = lanes.get(turn % lanes.size());
    Object item = lane.rows.take();
    if (item instanceof RowBatch rows) {
      turn++;
      rows.numberFrom(numbered, 0);
      numbered += rows.read();
      return rows;
    }
    lane.rows.add(item);
    Throwable failure = ((End) item).failure();
    if (failure == null) {
      return null;
    }
    throw Worker.rethrow(failure);
  }

  @Override
  public void recycle(RowBatch batch) {
    lanes.get((turn - 1) % lanes.size()).empty.add(batch);
  }

  /** Stops all threads, waits for them and closes the reader. */
  @Override
  public void close() {
    readerWorker.interrupt();
    lanes.forEach(lane -> lane.worker.interrupt());
    try {
      reader.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      readerWorker.join();
      lanes.forEach(lane -> lane.worker.join());
    }
  }
}
