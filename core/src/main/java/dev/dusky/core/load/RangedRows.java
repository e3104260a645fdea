package dev.dusky.core.load;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FileFaults;
import dev.dusky.core.record.RangeBytes;
import dev.dusky.core.record.RangeReader;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.TextRanges;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.function.Supplier;

/**
 * Reads and types the byte ranges of a large text file concurrently, each from where a record seems
 * to start. Ranges go to the threads in turn and are taken from them in turn, so rows keep the
 * order of the file. A range is good if its first record starts where the last one before it ended;
 * if not, its rows are dropped and it is read again from there, on the caller's thread.
 */
public final class RangedRows implements RowSource {

  /** The bytes of a range. */
  static final int RANGE = 1 << 20;

  /** The bytes fetched behind a range, since its last record rarely ends with it. */
  private static final int TAIL = 16 << 10;

  private static final int BATCH_BYTES = 256 << 10;
  private static final int BATCHES = RANGE / BATCH_BYTES + 2;
  private static final int MOST_LANES = 16;

  /** The approximate memory of a lane: its rows, twice a range and its records. */
  private static final int LANE_BYTES = 24 << 20;

  /** The results of a lane's ranges, in their order. */
  private sealed interface Item {}

  /** A range begins with the record at that place. */
  private record Begun(long start) implements Item {}

  private record Bound(RowBatch rows) implements Item {}

  /** A range is read. */
  private record Done(byte[] part, RangeReader.Passed passed) implements Item {}

  /** The lane has no more ranges, or failed. */
  private record End(Throwable failure) implements Item {}

  /** Reads and types one range after the other. */
  private final class Lane {
    private final int number;
    private final Part part;
    private final BlockingQueue<RowBatch> empty = new ArrayBlockingQueue<>(BATCHES);
    private final BlockingQueue<Item> items = new ArrayBlockingQueue<>(BATCHES + 2);
    private final Worker worker = new Worker("dusky-range", this::readAll);

    Lane(int number) {
      this.number = number;
      this.part = new Part();
      for (int i = 0; i < BATCHES; i++) {
        empty.add(part.binder.newBatch());
      }
    }

    private void readAll() {
      Throwable failure = null;
      try {
        for (long range = number; range < ahead.count(); range += lanes.size()) {
          read(range);
        }
      } catch (Throwable e) { // whatever it is, it must reach the caller of next()
        failure = e;
      }
      tell(new End(failure));
    }

    private void read(long range) throws IOException, InterruptedException {
      byte[] bytes = ahead.take(range);
      long start = part.reader.seek(range * rangeBytes, end(range), bytes);
      items.put(new Begun(start));
      if (start == RangeReader.NOWHERE) {
        items.put(new Done(bytes, RangeReader.none(start)));
        return;
      }
      while (part.read()) {
        RowBatch rows = empty.take();
        part.bind(rows);
        items.put(new Bound(rows));
      }
      items.put(new Done(bytes, part.reader.passed()));
    }

    /** Waits for room unless the rows are being closed. */
    private void tell(End end) {
      if (closed) {
        return;
      }
      try {
        items.put(end);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt(); // closed: there is no reader
      }
    }
  }

  /** The state with which one thread reads and types a range. */
  private final class Part {
    private final RangeReader reader = file.reader(source);
    private final FieldSplitter splitter = opened.splitter();
    private final Binder binder = binders.get();
    private final RecordBatch records = new RecordBatch(BATCH_BYTES);

    boolean read() throws IOException {
      try {
        return reader.read(records);
      } catch (Throwable e) { // nothing in a file may stop those behind it
        throw FileFaults.of(path, "in bytes from " + reader.from() + " on", e);
      }
    }

    void bind(RowBatch rows) throws IOException {
      try {
        binder.bind(splitter.split(records), rows);
      } catch (Throwable e) { // nothing in a file may stop those behind it
        throw FileFaults.of(path, "while its records were typed", e);
      }
    }
  }

  private final String path;
  private final RecordReader opened;
  private final TextRanges file;
  private final RangeBytes source;
  private final Supplier<Binder> binders;
  private final FileContent content;
  private final int rangeBytes;
  private final long size;
  private final RangePrefetcher ahead;
  private final List<Lane> lanes = new ArrayList<>();
  private Part again;
  private RowBatch againRows;
  private byte[] againBytes;
  private boolean good;
  private RowBatch given;
  private long range;
  private long at;
  private long records;
  private long lines;
  private long wrong;
  private volatile boolean closed;

  /**
   * Starts reading.
   *
   * @param path how messages name the file
   * @param opened the file, opened and not read from; closed with the rows
   * @param size the file's bytes
   * @param source gives them
   * @param content receives of them in their order
   * @param binders gives its own binder for each thread
   * @param files how many files are read at the same time and share the memory
   */
  public RangedRows(
      String path,
      RecordReader opened,
      long size,
      RangeBytes source,
      FileContent content,
      Supplier<Binder> binders,
      int files) {
    this(path, opened, size, RANGE, source, content, binders, lanes(files));
  }

  RangedRows(
      String path,
      RecordReader opened,
      long size,
      int rangeBytes,
      RangeBytes source,
      FileContent content,
      Supplier<Binder> binders,
      int threads) {
    this.path = path;
    this.opened = opened;
    this.file = opened.ranges().orElseThrow();
    this.source = source;
    this.content = content;
    this.binders = binders;
    this.rangeBytes = rangeBytes;
    this.size = size;
    this.ahead = new RangePrefetcher(source, size, rangeBytes, Math.min(rangeBytes, TAIL));
    this.at = file.first();
    this.lines = file.firstLine();
    for (int i = 0; i < threads; i++) {
      lanes.add(new Lane(i));
    }
    lanes.forEach(lane -> lane.worker.start());
  }

  private static int lanes(int files) {
    long room = Math.max(1, Runtime.getRuntime().maxMemory() / 2 / LANE_BYTES / files);
    int processors = Runtime.getRuntime().availableProcessors();
    return (int) Math.min(room, Math.min(MOST_LANES, Math.max(2, processors)));
  }

  @Override
  public RowBatch next() throws IOException, InterruptedException {
    while (true) {
      if (againBytes != null) {
        if (again.read()) {
          again.bind(againRows);
          return numbered(againRows);
        }
        finish(againBytes, again.reader.passed());
        againBytes = null;
      }
      Lane lane = lane();
      Item item = lane.items.take();
      if (item instanceof Begun begun) {
        good = begun.start() == at;
      } else if (item instanceof Bound bound && good) {
        return numbered(bound.rows());
      } else if (item instanceof Bound bound) {
        lane.empty.add(bound.rows());
      } else if (item instanceof Done done) {
        done(done);
      } else if (item instanceof End end) {
        lane.items.add(end);
        if (end.failure() == null) {
          file.ended();
          return null;
        }
        throw Worker.rethrow(end.failure());
      }
    }
  }

  private long end(long ofRange) {
    return Math.min(size, (ofRange + 1) * rangeBytes);
  }

  private Lane lane() {
    return lanes.get((int) (range % lanes.size()));
  }

  private RowBatch numbered(RowBatch rows) {
    rows.numberFrom(records, lines);
    records += rows.read();
    given = rows;
    return rows;
  }

  private void done(Done done) {
    if (good) {
      finish(done.part(), done.passed());
    } else if (at >= end(range)) {
      finish(
          done.part(),
          RangeReader.none(at)); // a record that started before extends through all of it
    } else {
      wrong++;
      if (again == null) {
        again = new Part();
        againRows = again.binder.newBatch();
      }
      againBytes = done.part();
      again.reader.seek(range * rangeBytes, end(range), againBytes, at);
    }
  }

  private void finish(byte[] part, RangeReader.Passed passed) {
    file.passed(passed, lines);
    long from = Math.max(0, range * rangeBytes - 1);
    content.pass(part, (int) (end(range) - from), from);
    at = passed.end();
    lines += passed.lines();
    range++;
  }

  /** How many ranges were read again, since their first record started elsewhere. */
  long wrong() {
    return wrong;
  }

  @Override
  public void recycle(RowBatch batch) {
    if (given != againRows) {
      lane().empty.add(batch);
    }
    given = null;
  }

  /** Stops all threads, waits for them and closes the reader. */
  @Override
  public void close() {
    closed = true; // a lane that was interrupted already must not wait for room again
    ahead.close();
    lanes.forEach(lane -> lane.worker.interrupt());
    try {
      opened.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      lanes.forEach(lane -> lane.worker.join());
    }
  }
}
