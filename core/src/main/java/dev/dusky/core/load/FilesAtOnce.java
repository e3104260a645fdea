package dev.dusky.core.load;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.CountDownLatch;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Deals with some files at the same time, each on a thread and in a transaction of its own. They
 * are settled in the order in which they were given, so that everything comes out as if one had
 * followed the other: which of two twins is posted, and where a failure stops the load.
 */
final class FilesAtOnce implements AutoCloseable {

  /** One file's thread. */
  private final class Task implements ConcurrentFiles.Turn {
    private final KnownFile known;
    private final CountDownLatch settled = new CountDownLatch(1);
    private final Worker worker = new Worker("dusky-file", this::run);
    private Task before;
    private FileResult result;
    private volatile Throwable failure;

    Task(KnownFile known, Task before) {
      this.known = known;
      this.before = before;
    }

    private void run() {
      try (LoadRepeats repeats = memory.get()) {
        result = dealing.apply(known, new ConcurrentFiles(most, this, repeats));
      } catch (Throwable e) { // whatever it is, it must reach the thread that runs the load
        failure = e;
      }
      before = null;
      settled.countDown();
    }

    @Override
    public boolean lost() {
      return stopping || before != null && before.failure != null;
    }

    @Override
    public void await() throws InterruptedException {
      if (before != null) {
        before.settled.await();
      }
      if (lost()) {
        throw Failure.of(Failure.Kind.INTERRUPTED, "Stopped while loading " + known.file().path())
            .because("what came before it failed")
            .next("Nothing of this file was kept; load again to go on where this stopped");
      }
    }
  }

  private final int most;
  private final BiFunction<KnownFile, ConcurrentFiles, FileResult> dealing;
  private final Supplier<LoadRepeats> memory;
  private final Consumer<FileResult> results;
  private final Deque<Task> tasks = new ArrayDeque<>();
  private volatile boolean stopping;

  /**
   * Files for that many threads.
   *
   * @param most at least two
   * @param dealing deals with a file from its claim to its outcome
   * @param memory gives each file what remembers its rows
   * @param results told what became of the files, in their order
   */
  FilesAtOnce(
      int most,
      BiFunction<KnownFile, ConcurrentFiles, FileResult> dealing,
      Supplier<LoadRepeats> memory,
      Consumer<FileResult> results) {
    this.most = most;
    this.dealing = dealing;
    this.memory = memory;
    this.results = results;
  }

  /** Whether none is at work. */
  boolean idle() {
    return tasks.isEmpty();
  }

  /** Begins with a file, as soon as there is a thread for it. */
  void deal(KnownFile known) {
    while (tasks.size() >= most) {
      settle();
    }
    Task task = new Task(known, tasks.peekLast());
    tasks.add(task);
    task.worker.start();
  }

  /** Waits until all are dealt with. */
  void finish() {
    while (!tasks.isEmpty()) {
      settle();
    }
  }

  private void settle() {
    Task first = tasks.remove();
    first.worker.join();
    if (first.failure == null) {
      results.accept(first.result);
      return;
    }
    stopping = true;
    try {
      throw Worker.rethrow(first.failure);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException("nobody interrupts these threads", e);
    }
  }

  /** Lets no other file be settled, waits for those at work, and tells what was settled. */
  @Override
  public void close() {
    stopping = true;
    for (Task task : tasks) {
      task.worker.join();
      if (task.failure == null) {
        results.accept(task.result);
      }
    }
    tasks.clear();
  }
}
