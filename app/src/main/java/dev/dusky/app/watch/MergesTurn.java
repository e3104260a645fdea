package dev.dusky.app.watch;

import dev.dusky.app.config.WatchSettings.MergeTiming;
import dev.dusky.app.figures.TallyFigures;
import dev.dusky.app.watch.WatchEvent.Level;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeOrder;
import dev.dusky.core.merge.MergeResult;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.table.TableName;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.BooleanSupplier;

/** The merges that follow loads, run together in the order in which they need one another. */
final class MergesTurn {

  private final Workspace workspace;
  private final WatchListener listener;
  private final WatchMetrics metrics;
  private final BooleanSupplier stopped;
  private final Set<String> due = new LinkedHashSet<>();

  MergesTurn(
      Workspace workspace, WatchListener listener, WatchMetrics metrics, BooleanSupplier stopped) {
    this.workspace = workspace;
    this.listener = listener;
    this.metrics = metrics;
    this.stopped = stopped;
  }

  /** Notes a merge whose interval is over. */
  synchronized void due(String merge) {
    due.add(merge);
  }

  /** Notes the merges that follow a feed's loads; false if none does. */
  synchronized boolean posted(Feed feed) {
    return follow(feed.into());
  }

  private boolean follow(TableName changed) {
    boolean any = false;
    for (Map.Entry<String, MergeTiming> timing :
        workspace.configuration().watch().merges().entrySet()) {
      Merge merge = workspace.configuration().merges().get(timing.getKey());
      boolean reads =
          merge.source() instanceof MergeSource.Query
              || merge.source() instanceof MergeSource.Landing landing
                  && landing.table().equals(changed);
      if (timing.getValue().eachLoad() && reads && !merge.into().equals(changed)) {
        any |= due.add(merge.name());
      }
    }
    return any;
  }

  private synchronized List<Merge> take() {
    if (due.isEmpty()) {
      return List.of();
    }
    List<Merge> merges = workspace.configuration().mergesOrAll(due);
    due.clear();
    return merges;
  }

  private synchronized void putBack(List<Merge> merges) {
    merges.forEach(merge -> due.add(merge.name()));
  }

  /** Runs what is due; what fails stays due, with all that needs it, and stops nothing else. */
  void run() {
    MergeOrder order = new MergeOrder(workspace.configuration().merges());
    List<Merge> left = new ArrayList<>();
    Set<String> names = new LinkedHashSet<>();
    RuntimeException failure = null;
    List<Merge> merges = take();
    while (!merges.isEmpty()) {
      for (int i = 0; i < merges.size(); i++) {
        Merge merge = merges.get(i);
        if (stopped.getAsBoolean()) {
          left.addAll(merges.subList(i, merges.size()));
          break;
        }
        if (order.waitsFor(merge, names).isPresent()) {
          left.add(merge);
          names.add(merge.name());
          continue;
        }
        try {
          run(merge);
        } catch (RuntimeException e) {
          left.add(merge);
          names.add(merge.name());
          if (failure == null) {
            failure = e;
          } else {
            failure.addSuppressed(e);
          }
        }
      }
      merges = stopped.getAsBoolean() ? List.of() : take(); // those that follow what has changed
    }
    putBack(left);
    if (failure != null) {
      throw failure;
    }
  }

  private void run(Merge merge) {
    List<MergeResult> results = new ArrayList<>();
    workspace
        .warehouse()
        .merges()
        .run(merge, Workspace.mergeStart(false, OptionalLong.empty()), table -> {}, results::add);
    MergeTally tally =
        results.stream().map(MergeResult::tally).reduce(MergeTally.NONE, MergeTally::plus);
    metrics.merged(merge.name(), tally);
    if (tally.landed() > 0) {
      listener.event(
          tally.rejected() > 0 ? Level.WARN : Level.INFO,
          "merge",
          merge.name(),
          TallyFigures.sum(tally),
          TallyFigures.fields(tally));
      synchronized (this) {
        follow(merge.into());
      }
    }
  }
}
