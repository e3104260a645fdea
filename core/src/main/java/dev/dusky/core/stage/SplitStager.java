package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.split.Cut;
import dev.dusky.core.split.FileCutter;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.split.PartFile;
import dev.dusky.core.split.PartNames;
import dev.dusky.core.split.RecordForm;
import dev.dusky.core.split.SplitPlan;
import dev.dusky.core.split.UnpackedFile;
import dev.dusky.core.stage.StageListener.Outcome;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Function;

/**
 * Stores local files cut into parts, compressed, or both. While one part is sought, others are
 * compressed and sent; each exists as a temporary file only until the depot has it.
 */
public final class SplitStager {

  /** A part that is done; its entry says how the depot has it. */
  private record Part(Manifest.Entry entry, Outcome outcome) {}

  private final Depot depot;
  private final StagePlan plan;
  private final SplitPlan split;
  private final Function<LocalFile, RecordForm> forms;
  private final StageListener listener;
  private final OutcomeCounts counts = new OutcomeCounts();
  private final List<Manifest.Entry> entries = new ArrayList<>();

  /**
   * A stager for a depot.
   *
   * @param forms says of a file that is to be cut how its records are found
   */
  public SplitStager(
      Depot depot,
      StagePlan plan,
      SplitPlan split,
      Function<LocalFile, RecordForm> forms,
      StageListener listener) {
    this.depot = depot;
    this.plan = plan;
    this.split = split;
    this.forms = forms;
    this.listener = listener;
  }

  /** Stores the files one after the other, the parts of each concurrently. */
  public StageResult run(List<LocalFile> files) {
    long startNanos = System.nanoTime();
    ExecutorService threads =
        Executors.newFixedThreadPool(plan.connections(), work -> new Thread(work, "dusky-split"));
    try (Uplink uplink = new Uplink(plan.connections(), plan.bytesPerSecond(), sent -> {})) {
      FileStore store = new FileStore(depot, plan, uplink);
      for (LocalFile file : files) {
        try (FetchedFile here = new FetchedFile(file)) {
          stage(file, store, threads);
        } catch (IOException e) {
          fail(file, "Reading %s failed: %s".formatted(file.shown(), e.getMessage()));
        } catch (Failure failure) {
          if (failure.kind() != Failure.Kind.FILE && failure.kind() != Failure.Kind.USAGE) {
            throw failure;
          }
          fail(file, failure.getMessage());
        }
      }
    } finally {
      threads.shutdownNow();
    }
    return counts.result(Duration.ofNanos(System.nanoTime() - startNanos));
  }

  private void fail(LocalFile file, String why) {
    counts.add(Outcome.UNREADABLE, 0);
    listener.done(file, Outcome.UNREADABLE, why);
  }

  /** The entries of a manifest of all parts that the depot has, in the order of their rows. */
  public List<Manifest.Entry> entries() {
    return List.copyOf(entries);
  }

  private void stage(LocalFile file, FileStore store, ExecutorService threads) throws IOException {
    boolean good = true;
    try (UnpackedFile unpacked = UnpackedFile.of(file.file(), split.bytes().isPresent())) {
      Path plain = unpacked.file();
      long size = Files.size(plain);
      long parts = split.cuts(size) ? size / split.bytes().getAsLong() + 1 : 1;
      PartCompression compression =
          unpacked.compressed() ? PartCompression.NONE : split.compression();
      PartNames names = new PartNames(file.path(), unpacked.made(), parts, compression);
      List<Future<Part>> pending = new ArrayList<>();
      if (split.cuts(size)) {
        new FileCutter(
                file.shown(),
                plain,
                forms.apply(file),
                split.bytes().getAsLong(),
                cut ->
                    pending.add(
                        threads.submit(
                            () ->
                                part(
                                    file,
                                    plain,
                                    cut,
                                    compression,
                                    names.part(cut.number()),
                                    false,
                                    store))))
            .run();
      } else {
        Cut all = new Cut(1, 0, 0, size, 0, Map.of());
        pending.add(
            threads.submit(() -> part(file, plain, all, compression, names.whole(), true, store)));
      }
      for (Future<Part> part : pending) {
        Part done = await(part);
        counts.add(done.outcome(), done.entry().size().orElse(0L));
        good &= done.outcome().good();
        if (done.outcome().good()) {
          entries.add(done.entry());
        }
      }
    }
    if (FileStore.changed(file)) {
      throw Failure.file(file.shown() + " changed while it was staged")
          .because("its parts may be of different contents")
          .hint("Remove them from the depot, or stage it again with --replace, before a load");
    }
    if (good && plan.move()) {
      FileStore.remove(file);
    }
  }

  private Part part(
      LocalFile whole,
      Path plain,
      Cut cut,
      PartCompression compression,
      String path,
      boolean uncut,
      FileStore store)
      throws IOException {
    try (PartFile part = PartFile.write(plain, cut, compression)) {
      LocalFile file =
          new LocalFile(part.file(), path, part.size(), whole.modified(), Optional.empty());
      Outcome outcome = store.store(part.file(), part.size(), path, depot.look(path));
      // Progress is in the bytes of the file as it is, compressed or not.
      double share = (cut.end() - cut.start()) / (double) Math.max(1, Files.size(plain));
      listener.sent(Math.round(share * whole.size()));
      listener.done(file, outcome, "");
      Manifest.Entry entry =
          new Manifest.Entry(
              path,
              true,
              Optional.of(part.size()),
              Optional.of(part.sha256()),
              uncut ? Optional.empty() : Optional.of(cut.rows()),
              cut.totals());
      return new Part(entry, outcome);
    }
  }

  private static Part await(Future<Part> part) throws IOException {
    try {
      return part.get();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "Staging was stopped")
          .hint("Staged parts stay; run it again for the rest");
    } catch (ExecutionException e) {
      if (e.getCause() instanceof RuntimeException cause) {
        throw cause;
      }
      if (e.getCause() instanceof IOException cause) {
        throw cause;
      }
      throw new IllegalStateException("staging failed", e.getCause());
    }
  }
}
