package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageListener.Outcome;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/**
 * Stores files in a depot, several at a time; those that are elsewhere are fetched before. A file
 * that cannot be read is reported and does not stop the others; the first failure of the depot
 * stops what is not begun.
 */
public final class Stager {

  private final Depot depot;
  private final StagePlan plan;

  /** A stager for a depot. */
  public Stager(Depot depot, StagePlan plan) {
    this.depot = depot;
    this.plan = plan;
  }

  /** Stores the files, which are in the order of their paths. */
  public StageResult run(List<LocalFile> files, StageListener listener) {
    long startNanos = System.nanoTime();
    ExecutorService threads =
        Executors.newFixedThreadPool(plan.connections(), work -> new Thread(work, "dusky-stager"));
    OutcomeCounts counts = new OutcomeCounts();
    try (Uplink uplink = new Uplink(plan.connections(), plan.bytesPerSecond(), listener::sent)) {
      FilesThere there = new FilesThere(depot, files);
      List<Future<Outcome>> outcomes = new ArrayList<>();
      for (LocalFile file : files) {
        outcomes.add(threads.submit(() -> stage(file, there, uplink, listener)));
      }
      for (int i = 0; i < files.size(); i++) {
        counts.add(await(outcomes.get(i)), files.get(i).size());
      }
    } finally {
      threads.shutdownNow();
    }
    return counts.result(Duration.ofNanos(System.nanoTime() - startNanos));
  }

  private Outcome stage(LocalFile file, FilesThere there, Uplink uplink, StageListener listener) {
    Outcome outcome;
    String why = "";
    try (FetchedFile here = new FetchedFile(file)) {
      outcome =
          new FileStore(depot, plan, uplink)
              .store(file.file(), file.size(), file.path(), there.look(file.path()));
      if (plan.move() && outcome.good()) {
        FileStore.remove(file);
      }
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE) {
        throw failure;
      }
      outcome = Outcome.UNREADABLE;
      why = failure.getMessage();
    }
    if (outcome != Outcome.STAGED) {
      uplink.sent(file.size());
    }
    listener.done(file, outcome, why);
    return outcome;
  }

  private static Outcome await(Future<Outcome> future) {
    try {
      return future.get();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "Staging was stopped")
          .hint("Staged files stay; run it again for the rest");
    } catch (ExecutionException e) {
      if (e.getCause() instanceof RuntimeException cause) {
        throw cause;
      }
      throw new IllegalStateException("staging failed", e.getCause());
    }
  }
}
