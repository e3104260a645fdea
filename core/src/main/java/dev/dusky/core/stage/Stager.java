package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.StageListener.Outcome;
import java.io.IOException;
import java.nio.file.Files;
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

/**
 * Stores local files in a depot, several at a time. A file that cannot be read is reported and does
 * not stop the others; the first failure of the depot stops what is not begun.
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
    Map<Outcome, Integer> counts = new EnumMap<>(Outcome.class);
    long bytes = 0;
    try (Uplink uplink = new Uplink(plan.connections(), plan.bytesPerSecond(), listener::sent)) {
      FilesThere there = new FilesThere(depot, files);
      List<Future<Outcome>> outcomes = new ArrayList<>();
      for (LocalFile file : files) {
        outcomes.add(threads.submit(() -> stage(file, there, uplink, listener)));
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
        counts.getOrDefault(Outcome.UNREADABLE, 0),
        Duration.ofNanos(System.nanoTime() - startNanos));
  }

  private Outcome stage(LocalFile file, FilesThere there, Uplink uplink, StageListener listener) {
    Outcome outcome;
    String why = "";
    try {
      outcome = store(file, there, uplink);
      if (plan.move() && (outcome == Outcome.STAGED || outcome == Outcome.SAME)) {
        remove(file);
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

  private Outcome store(LocalFile file, FilesThere there, Uplink uplink) {
    Optional<StagedFile> found = there.look(file.path());
    if (found.isPresent() && depot.same(found.get(), file.file())) {
      return Outcome.SAME;
    }
    if (found.isPresent() && !plan.replace()) {
      return Outcome.DIFFERING;
    }
    StagedFile staged = depot.put(file.path(), file.file(), uplink);
    if (staged.size() != file.size()) {
      throw Failure.file("Staging " + file.file() + " failed")
          .because(
              "the depot has %,d bytes of it, the file has %,d"
                  .formatted(staged.size(), file.size()))
          .hint("The file may have changed meanwhile; stage it again with --replace");
    }
    return Outcome.STAGED;
  }

  /** Removes a local file whose content the depot has; one that has changed since stays. */
  private static void remove(LocalFile file) {
    try {
      if (Files.size(file.file()) == file.size()
          && Files.getLastModifiedTime(file.file()).toInstant().equals(file.modified())) {
        Files.delete(file.file());
        return;
      }
    } catch (IOException e) {
      throw Failure.file(file.file() + " was staged, but not removed")
          .because(String.valueOf(e.getMessage()))
          .hint("Remove it yourself")
          .from(e);
    }
    throw Failure.file(file.file() + " was staged, but not removed")
        .because("it has changed since")
        .hint("Stage it again with --replace");
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
