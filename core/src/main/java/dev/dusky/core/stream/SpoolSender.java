package dev.dusky.core.stream;

import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.split.Cut;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.split.PartFile;
import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

/**
 * Sends complete files of a spool to the depot, one after the other, on a separate thread. A depot
 * that does not answer is tried again and again, at growing intervals; meanwhile files wait on disk
 * and the stream waits once there are too many.
 */
final class SpoolSender implements AutoCloseable {

  /** How many files may wait before the stream does. */
  private static final int MOST_WAITING = 16;

  private static final Duration FIRST_PAUSE = Duration.ofMillis(500);
  private static final Duration LONGEST_PAUSE = Duration.ofSeconds(60);

  private final StreamSpool spool;
  private final Depot depot;
  private final PartCompression compression;
  private final StreamListener listener;
  private final BlockingQueue<Optional<StreamSpool.Ready>> waiting =
      new ArrayBlockingQueue<>(MOST_WAITING);
  private final Thread thread = new Thread(this::sendAll, "dusky-sender");
  private volatile RuntimeException failure;
  private final CountDownLatch hurry = new CountDownLatch(1);
  private long files;
  private long records;

  SpoolSender(
      StreamSpool spool, Depot depot, PartCompression compression, StreamListener listener) {
    this.spool = spool;
    this.depot = depot;
    this.compression = compression;
    this.listener = listener;
    thread.setDaemon(true);
    thread.start();
  }

  /** Hands over a file; waits while too many are waiting. */
  void add(StreamSpool.Ready file) throws InterruptedException {
    while (!waiting.offer(Optional.of(file), 100, TimeUnit.MILLISECONDS)) {
      check();
    }
    check();
  }

  /** Whether {@link #add} would wait. */
  boolean full() {
    return waiting.remainingCapacity() == 0;
  }

  /** Throws what made sending impossible. */
  void check() {
    if (failure != null) {
      throw failure;
    }
  }

  private void sendAll() {
    try {
      for (Optional<StreamSpool.Ready> file = waiting.take();
          file.isPresent();
          file = waiting.take()) {
        sendAtLast(file.get());
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt(); // closed: what is not sent stays in the spool
    } catch (RuntimeException e) {
      failure = e;
    }
  }

  private void sendAtLast(StreamSpool.Ready file) throws InterruptedException {
    Duration pause = FIRST_PAUSE;
    while (true) {
      try {
        send(file);
        return;
      } catch (IOException e) {
        throw TemporaryFolder.failure("Sending " + file.path(), e);
      } catch (Failure e) {
        if (e.kind() != Failure.Kind.DEPOT || hurry.getCount() == 0) {
          throw e;
        }
        listener.waiting(file.path(), e.getMessage());
      }
      hurry.await(pause.toMillis(), TimeUnit.MILLISECONDS); // or until the stream ends
      pause = pause.multipliedBy(2);
      pause = pause.compareTo(LONGEST_PAUSE) > 0 ? LONGEST_PAUSE : pause;
    }
  }

  private void send(StreamSpool.Ready file) throws IOException {
    long size = Files.size(file.file());
    Cut all = new Cut(1, 0, 0, size, 0, Map.of());
    try (PartFile part = PartFile.write(file.file(), all, compression)) {
      Optional<StagedFile> there = depot.look(file.path());
      if (there.isEmpty()) {
        depot.put(file.path(), part.file());
      } else if (!depot.same(there.get(), part.file())) {
        throw Failure.file(file.path() + " is in the depot with other content")
            .because("another stream or person stages files under the same names")
            .hint(
                "Move that file away, or give the streams different names with --as; "
                    + file.file()
                    + " is kept and sent when the stream runs again");
      }
      long count = records(file);
      spool.sent(file);
      files++;
      records += count;
      listener.staged(file.path(), count, part.size());
    }
  }

  private static long records(StreamSpool.Ready file) throws IOException {
    try (SpoolFile counted = SpoolFile.left(file.file())) {
      return counted.records();
    }
  }

  /** How many files were sent. */
  long files() {
    return files;
  }

  /** How many records they have. */
  long records() {
    return records;
  }

  /** Sends what is waiting; a depot that does not answer is not waited for any more. */
  void finish() throws InterruptedException {
    hurry.countDown();
    while (!waiting.offer(Optional.empty(), 100, TimeUnit.MILLISECONDS)) {
      check();
    }
    thread.join();
    check();
  }

  @Override
  public void close() {
    thread.interrupt();
    try {
      thread.join();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
