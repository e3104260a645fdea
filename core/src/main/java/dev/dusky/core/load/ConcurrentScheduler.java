package dev.dusky.core.load;

import dev.dusky.core.concurrent.Worker;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.function.BiFunction;
import java.util.function.Consumer;

/**
 * Processes several files at the same time, each on a thread and in its own transaction. They are
 * committed in the order in which they were added, so the result is that of one after the other:
 * which of two twins is posted, and where a failure stops the load.
 */
final class ConcurrentScheduler implements FileScheduler {

  /** One file's thread. */
  private final class Task implements CommitOrder {
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
      try {
        result = processing.apply(known, this);
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
            .because("a file before it failed")
            .hint("This file was rolled back; load again to continue");
      }
    }
  }

  private final int most;
  private final BiFunction<KnownFile, CommitOrder, FileResult> processing;
  private final Consumer<FileResult> results;
  private final Deque<Task> tasks = new ArrayDeque<>();
  private volatile boolean stopping;

  /**
   * A scheduler with that many threads.
   *
   * @param most the number of files at the same time; at least two
   * @param processing takes a file from its claim to its outcome
   * @param results receives the results, in the order of the files
   */
  ConcurrentScheduler(
      int most,
      BiFunction<KnownFile, CommitOrder, FileResult> processing,
      Consumer<FileResult> results) {
    this.most = most;
    this.processing = processing;
    this.results = results;
  }

  @Override
  public void add(KnownFile known) {
    while (tasks.size() >= most) {
      settle();
    }
    Task task = new Task(known, tasks.peekLast());
    tasks.add(task);
    task.worker.start();
  }

  @Override
  public void addFew(List<KnownFile> files) {
    if (tasks.isEmpty()) {
      files.forEach(known -> results.accept(processing.apply(known, CommitOrder.FIRST)));
    } else {
      files.forEach(this::add);
    }
  }

  @Override
  public void finish() {
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
      throw new IllegalStateException("these threads are never interrupted", e);
    }
  }

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
