package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageListener.Outcome;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** Stores local files in a depot, several at a time. The first failure stops what is not begun. */
public final class Stager {

  private final Depot depot;
  private final boolean replace;
  private final int parallel;

  /**
   * A stager for a depot.
   *
   * @param replace whether files that are there with other content are replaced
   * @param parallel how many files are stored at a time
   */
  public Stager(Depot depot, boolean replace, int parallel) {
    this.depot = depot;
    this.replace = replace;
    this.parallel = parallel;
  }

  /** Stores the files. */
  public StageResult run(List<LocalFile> files, StageListener listener) {
    long startNanos = System.nanoTime();
    ExecutorService threads =
        Executors.newFixedThreadPool(parallel, work -> new Thread(work, "dusky-stager"));
    Map<Outcome, Integer> counts = new EnumMap<>(Outcome.class);
    long bytes = 0;
    try {
      List<Future<Outcome>> outcomes = new ArrayList<>();
      for (LocalFile file : files) {
        outcomes.add(threads.submit(() -> stage(file, listener)));
      }
      for (int i = 0; i < files.size(); i++) {
        Outcome outcome = await(outcomes.get(i));
        counts.merge(outcome, 1, Integer::sum);
        bytes += outcome == Outcome.STAGED ? files.get(i).size() : 0;
      }
    } finally {
      threads.shutdownNow();
    }
    return new StageResult(
        counts.getOrDefault(Outcome.STAGED, 0),
        bytes,
        counts.getOrDefault(Outcome.SAME, 0),
        counts.getOrDefault(Outcome.DIFFERING, 0),
        Duration.ofNanos(System.nanoTime() - startNanos));
  }

  private Outcome stage(LocalFile file, StageListener listener) {
    Optional<StagedFile> there = depot.look(file.path());
    Outcome outcome;
    if (there.isPresent() && depot.same(there.get(), file.file())) {
      outcome = Outcome.SAME;
      listener.sent(file.size());
    } else if (there.isPresent() && !replace) {
      outcome = Outcome.DIFFERING;
      listener.sent(file.size());
    } else {
      StagedFile staged = depot.put(file.path(), file.file(), listener::sent);
      if (staged.size() != file.size()) {
        throw Failure.depot("Staging " + file.file() + " failed")
            .because(
                "the depot has %,d bytes of it, the file has %,d"
                    .formatted(staged.size(), file.size()))
            .hint("The file may have changed meanwhile; stage it again with --replace");
      }
      outcome = Outcome.STAGED;
    }
    listener.done(file, outcome);
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
