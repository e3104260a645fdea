package dev.dusky.core.load;

import dev.dusky.core.tally.Tally;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Processes small files together in shared transactions, and others with another scheduler. While
 * one group is posted the next one is read. What cannot be done together is done one by one.
 */
final class GroupScheduler implements FileScheduler {

  private final SmallFiles small;
  private final BiFunction<List<KnownFile>, Tally, Optional<PendingGroup>> reading;
  private final FileScheduler alone;
  private final Supplier<Tally> posted;
  private final Consumer<FileResult> results;
  private PendingGroup pending;

  /**
   * A scheduler over another one.
   *
   * @param small decides which files are small, and when a group is full
   * @param reading reads a group, given the tally before it; empty if that is impossible
   * @param alone processes files one by one
   * @param posted the tally of what was posted so far
   * @param results receives the results of groups
   */
  GroupScheduler(
      SmallFiles small,
      BiFunction<List<KnownFile>, Tally, Optional<PendingGroup>> reading,
      FileScheduler alone,
      Supplier<Tally> posted,
      Consumer<FileResult> results) {
    this.small = small;
    this.reading = reading;
    this.alone = alone;
    this.posted = posted;
    this.results = results;
  }

  @Override
  public void add(KnownFile known) {
    if (!small.suits(known)) {
      processGroup();
      settle();
      alone.add(known);
      return;
    }
    small.add(known);
    if (small.full()) {
      processGroup();
    }
  }

  @Override
  public void finish() {
    processGroup();
    settle();
    alone.finish();
  }

  private void processGroup() {
    List<KnownFile> files = small.take();
    boolean few = small.few(files.size());
    if (!few) {
      alone.finish(); // they come before those of the group
    }
    Optional<PendingGroup> next = few ? Optional.empty() : read(files);
    settle();
    if (next.isPresent()) {
      pending = next.get();
    } else if (few) {
      alone.addFew(files);
    } else {
      files.forEach(alone::add);
    }
  }

  /** Reads files and starts posting them behind those before. */
  private Optional<PendingGroup> read(List<KnownFile> files) {
    Tally before = pending == null ? posted.get() : posted.get().plus(pending.tally());
    Optional<PendingGroup> next = reading.apply(files, before);
    if (next.isPresent()) {
      if (pending != null) {
        pending.await(); // its files must be posted before twins of them are recognised
      }
      next.get().start();
    }
    return next;
  }

  /** Waits for the group that is being posted. */
  private void settle() {
    if (pending == null) {
      return;
    }
    PendingGroup done = pending;
    pending = null;
    if (done.join()) {
      done.results().forEach(results);
    } else {
      done.files().forEach(alone::add);
    }
  }

  @Override
  public void close() {
    alone.close();
    if (pending == null) {
      return;
    }
    PendingGroup last = pending;
    pending = null;
    if (last.join()) {
      last.results().forEach(results);
    }
  }
}
