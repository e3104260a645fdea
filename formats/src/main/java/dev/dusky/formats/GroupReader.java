package dev.dusky.formats;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
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
 * Reads row groups with several concurrent threads, each of which decodes some of the columns, and
 * puts their runs of rows together again. Between the threads stand bounded queues: of a group only
 * its stored bytes are held whole, never its rows.
 */
final class GroupReader implements RecordReader {

  private static final int MOST_DECODERS = 4;
  private static final int DEPTH = 3;

  /** The end of a group in a queue, or its failure. */
  private record End(Throwable failure) {}

  /** One share of the columns with its queue. */
  private final class Lane {
    private final int[] columns;
    private final BlockingQueue<Object> decoded = new ArrayBlockingQueue<>(DEPTH);
    private final BlockingQueue<TypedRows> empty = new ArrayBlockingQueue<>(DEPTH + 4);
    private final Worker worker = new Worker("dusky-decoder", this::run);

    Lane(int[] columns) {
      this.columns = columns;
    }

    private void run() {
      try (GroupDecoder.Share share = decoder.open(columns)) {
        for (int next = 0; next < decoder.groups(); next++) {
          share.begin(next);
          while (true) {
            TypedRows rows = empty.poll();
            rows = rows == null ? share.newRows() : rows;
            if (!share.next(rows)) {
              break;
            }
            hand(rows);
          }
          hand(new End(null));
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt(); // closed: there is no reader
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
  private final Map<RecordBatch, List<TypedRows>> lent = new IdentityHashMap<>();
  private int group;
  private volatile boolean closed;

  /** Starts decoding; the decoder is closed with the reader. */
  GroupReader(String path, String kind, GroupDecoder decoder) {
    this.path = path;
    this.kind = kind;
    this.decoder = decoder;
    int most = Math.min(MOST_DECODERS, Runtime.getRuntime().availableProcessors());
    decoder.shares(most).forEach(columns -> lanes.add(new Lane(columns)));
    lanes.forEach(lane -> lane.worker.start());
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
    List<TypedRows> before = lent.remove(batch);
    for (int i = 0; before != null && i < before.size(); i++) {
      lanes.get(i).empty.offer(before.get(i));
    }
    while (group < decoder.groups()) {
      List<TypedRows> parts = new ArrayList<>();
      for (Lane lane : lanes) {
        Object item = take(lane);
        if (item instanceof TypedRows rows) {
          parts.add(rows);
        } else if (((End) item).failure() != null) {
          throw damaged(((End) item).failure());
        }
      }
      if (!parts.isEmpty()) {
        checkSame(parts);
        lent.put(batch, parts);
        TypedRows.move(parts, batch);
        return true;
      }
      group++;
    }
    return false;
  }

  /** Columns of different lengths would make rows of values that do not belong together. */
  private void checkSame(List<TypedRows> parts) throws IOException {
    int rows = parts.get(0).rows();
    if (parts.size() < lanes.size() || parts.stream().anyMatch(part -> part.rows() != rows)) {
      throw damaged(new IOException("its columns have different numbers of rows"));
    }
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
                .formatted(groupWord(kind), group + 1, decoder.groups(), kind, LibraryWords.of(e)))
        .hint("Nothing of it was loaded. Stage the file again, then load again")
        .from(e);
  }

  static String groupWord(String kind) {
    return kind.equals("ORC") ? "stripe" : "row group";
  }

  @Override
  public void close() throws IOException {
    closed = true;
    lanes.forEach(lane -> lane.worker.interrupt());
    lanes.forEach(lane -> lane.worker.join());
    decoder.close();
  }
}
