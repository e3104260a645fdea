package dev.dusky.app.merge;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeOrder;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeStart;
import dev.dusky.core.merge.MergeStep;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;

/** Merges landed rows into targets, in the order in which merges need one another. */
public final class RunMerges {

  /** Follows the merges. */
  public interface Listener {

    /** Another merge holds the target; this one waits. */
    void waiting(String table);

    /** A merge is done, or got that far. */
    void merged(Merge merge, List<MergeResult> results);

    /** A merge is left out since one that it needs failed. */
    void skipped(Merge merge, String awaited);

    /** A merge failed; others continue. */
    void failed(Merge merge, Failure failure);
  }

  /**
   * How merges ended.
   *
   * @param clean whether no row was rejected
   * @param failure the first failure
   */
  public record Outcome(boolean clean, Optional<Failure> failure) {}

  private final Workspace workspace;

  /** Merges of that workspace. */
  public RunMerges(Workspace workspace) {
    this.workspace = workspace;
  }

  /** The merges with these names, or all, in their order. */
  public List<Merge> named(List<String> names) {
    List<Merge> merges = workspace.configuration().mergesOrAll(names);
    workspace.closeInterrupted();
    return merges;
  }

  /**
   * Runs merges.
   *
   * @param retry whether rejected rows are taken again, and no new ones
   * @param shown how many changes of each kind a rehearsal shows; empty to keep what is done
   */
  public Outcome run(List<Merge> merges, boolean retry, OptionalLong shown, Listener listener) {
    MergeOrder order = new MergeOrder(workspace.configuration().merges());
    Set<String> failed = new LinkedHashSet<>();
    Optional<Failure> first = Optional.empty();
    boolean clean = true;
    for (Merge merge : merges) {
      Optional<String> awaited = order.waitsFor(merge, failed);
      if (awaited.isPresent()) {
        failed.add(merge.name());
        listener.skipped(merge, awaited.get());
        continue;
      }
      List<MergeResult> results = new ArrayList<>();
      Optional<Failure> failure = run(merge, Workspace.mergeStart(retry, shown), results, listener);
      if (failure.isPresent()) {
        if (workspace.warehouse().lost() || merges.size() == 1) {
          throw failure.get();
        }
        failed.add(merge.name());
        first = first.or(() -> failure);
        listener.failed(merge, failure.get());
      }
      clean &= results.stream().allMatch(result -> result.tally().rejected() == 0);
    }
    return new Outcome(clean, first);
  }

  private Optional<Failure> run(
      Merge merge, MergeStart start, List<MergeResult> results, Listener listener) {
    try {
      workspace.warehouse().merges().run(merge, start, listener::waiting, results::add);
      listener.merged(merge, results);
      return Optional.empty();
    } catch (Failure failure) {
      if (!results.isEmpty()) {
        listener.merged(merge, results);
      }
      return Optional.of(failure);
    }
  }

  /** Fills columns of a target from the rows merged before, and returns how many were changed. */
  public long fill(Merge merge, List<String> columns) {
    return workspace
        .warehouse()
        .merges()
        .fill(merge, columns, Workspace.mergeStart(false, OptionalLong.empty()));
  }

  /** The statements of a merge. */
  public List<MergeStep> script(Merge merge) {
    return workspace.warehouse().merges().script(merge);
  }
}
