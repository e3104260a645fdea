package dev.dusky.core.stream;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;

/**
 * Stages a stream of records: collects it in a spool, completes a file when it is large or old
 * enough, and sends it. A file holds whole records and is in the depot only as a whole. What a
 * killed process left is sent first.
 */
public final class StreamStager {

  private static final int CHUNK = 256 << 10;
  private static final int CHUNKS = 4;

  /** Bytes of the stream; a length below 0 is its end. */
  private record Chunk(byte[] bytes, int length, IOException failure) {}

  /**
   * What a stream came to.
   *
   * @param files how many files were staged
   * @param records how many records they have
   * @param malformed how many records were not JSON where JSON was expected
   */
  public record Result(long files, long records, long malformed) {}

  private final Depot depot;
  private final Path folder;
  private final StreamName name;
  private final RollPolicy roll;
  private final boolean json;
  private final StreamListener listener;
  private final BooleanSupplier stopped;

  /**
   * A stager.
   *
   * @param folder the spool
   * @param json whether records are JSON values, which need not stand on lines; if not, they are
   *     lines
   * @param stopped whether the stream is to end, as if it had ended itself
   */
  public StreamStager(
      Depot depot,
      Path folder,
      StreamName name,
      RollPolicy roll,
      boolean json,
      StreamListener listener,
      BooleanSupplier stopped) {
    this.depot = depot;
    this.folder = folder;
    this.name = name;
    this.roll = roll;
    this.json = json;
    this.listener = listener;
    this.stopped = stopped;
  }

  /** Stages the stream to its end. */
  public Result run(InputStream in) {
    JsonLines lines = json ? new JsonLines() : null;
    try (RollingSpool spool = RollingSpool.open(folder, name, roll, depot, listener)) {
      spool.finish(collect(in, lines, spool));
      return new Result(
          spool.sender().files(), spool.sender().records(), lines == null ? 0 : lines.malformed());
    } catch (IOException e) {
      throw StreamSpool.failure(folder, e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "Staging the stream was stopped")
          .hint("What came is in " + folder + " and is sent when the stream runs again");
    }
  }

  /** Reads until the stream ends, false if it was stopped or broke off. */
  private boolean collect(InputStream in, JsonLines lines, RollingSpool spool)
      throws IOException, InterruptedException {
    BlockingQueue<Chunk> full = new ArrayBlockingQueue<>(CHUNKS);
    BlockingQueue<byte[]> empty = new ArrayBlockingQueue<>(CHUNKS);
    for (int i = 0; i < CHUNKS; i++) {
      empty.add(new byte[CHUNK + 8]);
    }
    Worker reader = new Worker("dusky-stream", () -> read(in, full, empty));
    reader.start();
    try {
      while (!stopped.getAsBoolean()) {
        Chunk chunk = full.poll(100, TimeUnit.MILLISECONDS);
        spool.sender().check();
        if (chunk != null && chunk.failure() != null) {
          listener.remark("The stream broke off: " + chunk.failure().getMessage());
          return false;
        }
        if (chunk != null && chunk.length() < 0) {
          return true;
        }
        if (chunk != null) {
          if (lines == null) {
            spool.current().append(chunk.bytes(), 0, chunk.length());
          } else {
            lines.take(chunk.bytes(), 0, chunk.length());
            spool.current().append(lines.bytes(), 0, lines.length());
          }
          empty.add(chunk.bytes());
        }
        spool.rollIfDue();
      }
      return false;
    } finally {
      reader.interrupt(); // it may stay in a read, which ends with the process
    }
  }

  private static void read(InputStream in, BlockingQueue<Chunk> full, BlockingQueue<byte[]> empty) {
    try {
      while (true) {
        byte[] bytes = empty.take();
        Chunk chunk;
        try {
          int length = in.read(bytes, 0, CHUNK);
          chunk = new Chunk(bytes, length, null);
        } catch (IOException e) {
          chunk = new Chunk(bytes, -1, e);
        }
        full.put(chunk);
        if (chunk.length() < 0) {
          return;
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt(); // the stream is not wanted any more
    }
  }
}
