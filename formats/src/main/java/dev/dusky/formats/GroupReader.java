package dev.dusky.formats;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import java.io.IOException;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;

/**
 * Reads row groups with several decoders side by side, a group each in turn, and gives their rows
 * in the order of the file. Between the threads stand bounded queues.
 */
final class GroupReader implements RecordReader {

  private static final int MOST_DECODERS = 4;
  private static final int DEPTH = 3;

  /** What stands in a queue behind a group's last rows, or instead of them. */
  private record End(Throwable failure) {}

  /** One decoder with its queue. */
  private final class Lane {
    private final int number;
    private final BlockingQueue<Object> decoded = new ArrayBlockingQueue<>(DEPTH);
    private final BlockingQueue<TypedRows> empty = new ArrayBlockingQueue<>(DEPTH + 4);
    private final Thread thread = new Thread(this::run, "dusky-decoder");

    Lane(int number) {
      this.number = number;
    }

    private void run() {
      try {
        for (int group = number; group < decoder.groups(); group += lanes.size()) {
          try (GroupDecoder.Run run = decoder.open(group)) {
            while (true) {
              TypedRows rows = empty.poll();
              rows = rows == null ? decoder.newRows() : rows;
              if (!run.next(rows)) {
                break;
              }
              hand(rows);
            }
          }
          hand(new End(null));
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt(); // closed: nobody will ask
      } catch (Throwable e) { // whatever it is, it must reach the caller of read()
        tell(e);
      }
    }

    private void tell(Throwable e) {
      try {
        hand(new End(e));
      } catch (InterruptedException again) {
        Thread.currentThread().interrupt();
      }
    }

    /** Waits for a free place; a library may have swallowed the interrupt that closing sent. */
    private void hand(Object item) throws InterruptedException {
      if (closed) {
        throw new InterruptedException("closed");
      }
      decoded.put(item);
    }
  }

  private final String path;
  private final String kind;
  private final GroupDecoder decoder;
  private final List<Lane> lanes = new ArrayList<>();
  private final Map<RecordBatch, TypedRows> lent = new IdentityHashMap<>();
  private final Map<TypedRows, Lane> origin = new IdentityHashMap<>();
  private int group;
  private volatile boolean closed;

  /** Starts decoding; the decoder is closed with the reader. */
  GroupReader(String path, String kind, GroupDecoder decoder) {
    this.path = path;
    this.kind = kind;
    this.decoder = decoder;
    int count =
        Math.max(
            1,
            Math.min(
                decoder.groups(),
                Math.min(MOST_DECODERS, Runtime.getRuntime().availableProcessors())));
    for (int i = 0; i < count; i++) {
      lanes.add(new Lane(i));
    }
    for (Lane lane : lanes) {
      lane.thread.setDaemon(true);
      lane.thread.start();
    }
  }

  @Override
  public List<String> names() {
    return decoder.names();
  }

  @Override
  public boolean typed() {
    return true;
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    TypedRows before = lent.remove(batch);
    if (before != null) {
      origin.get(before).empty.offer(before);
    }
    while (group < decoder.groups()) {
      Lane lane = lanes.get(group % lanes.size());
      Object item = take(lane);
      if (item instanceof TypedRows rows) {
        origin.put(rows, lane);
        lent.put(batch, rows);
        rows.moveTo(batch);
        return true;
      }
      Throwable failure = ((End) item).failure();
      if (failure != null) {
        throw damaged(failure);
      }
      group++;
    }
    return false;
  }

  private static Object take(Lane lane) throws IOException {
    try {
      return lane.decoded.take();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new java.io.InterruptedIOException("stopped while reading");
    }
  }

  private RuntimeException damaged(Throwable e) throws IOException {
    if (e instanceof Failure failure) {
      return failure;
    }
    if (e instanceof dev.dusky.core.bytes.StorageException storage) {
      throw storage;
    }
    if (e instanceof Error error) {
      throw error;
    }
    return Failure.file(path + " is cut or damaged")
        .because(
            "%s %d of %d of the %s file cannot be decoded: %s"
                .formatted(groupWord(kind), group + 1, decoder.groups(), kind, e.getMessage()))
        .next("Nothing of it was loaded. Stage the file again, then load again")
        .from(e);
  }

  static String groupWord(String kind) {
    return kind.equals("ORC") ? "stripe" : "row group";
  }

  @Override
  public void close() throws IOException {
    closed = true;
    lanes.forEach(lane -> lane.thread.interrupt());
    boolean interrupted = false;
    for (Lane lane : lanes) {
      while (lane.thread.isAlive()) {
        try {
          lane.thread.join();
        } catch (InterruptedException e) {
          interrupted = true;
        }
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
    decoder.close();
  }
}
