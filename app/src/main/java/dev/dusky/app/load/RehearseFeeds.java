package dev.dusky.app.load;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.advice.ProblemGroup;
import dev.dusky.core.advice.ProblemGroups;
import dev.dusky.core.advice.Sighting;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.rehearse.Rehearsal;
import dev.dusky.core.reject.RejectSpool;
import dev.dusky.core.table.TableRule;
import dev.dusky.core.tables.Tables;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Function;

/** Does everything that a load would, and keeps nothing of it. */
public final class RehearseFeeds {

  /**
   * A feed rehearsed.
   *
   * @param feed the feed
   * @param result the result that the load would have
   * @param unjudged whether the table exists but could not judge the rows
   * @param groups the problems of its rejects
   * @param rules the table's rules
   */
  public record Rehearsed(
      Feed feed, LoadResult result, boolean unjudged, List<Group> groups, List<TableRule> rules) {}

  /**
   * Problems of one kind.
   *
   * @param group the problems
   * @param rows the rows of the files that have them
   */
  public record Group(ProblemGroup group, long rows) {}

  private final Workspace workspace;
  private final BooleanSupplier stopped;
  private final boolean onEngine;

  /**
   * Rehearsals in that workspace.
   *
   * @param stopped asked between batches; rehearsals end once it is true
   * @param onEngine whether files are attempted on the warehouse's engine
   */
  public RehearseFeeds(Workspace workspace, BooleanSupplier stopped, boolean onEngine) {
    this.workspace = workspace;
    this.stopped = stopped;
    this.onEngine = onEngine;
  }

  /** Rehearses a feed. */
  public Rehearsed run(Feed feed, Function<Feed, LoadListener> listener) {
    ProblemGroups groups = new ProblemGroups();
    Map<String, Long> read = new HashMap<>();
    Tables tables = workspace.bareWarehouse().tables();
    Rehearsal rehearsal = new Rehearsal(workspace.bareWarehouse().ledger(), tables, onEngine);
    LoadRun run =
        LoadRun.of(feed, workspace.depot(feed), listener.apply(feed), stopped)
            .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed)))
            .withDispatch(onEngine ? Optional.of(dispatch(feed)) : Optional.empty());
    LoadResult result =
        new FeedLoader(
                rehearsal.ledger(
                    (file, outcome, rejects) -> {
                      read.put(file.path(), outcome.tally().read());
                      collect(feed, file, rejects, groups);
                    }),
                rehearsal.tables(),
                run)
            .run(workspace.start(feed));
    boolean unjudged = tables.shape(feed.into()).isPresent() && !tables.writable(feed.into());
    List<Group> found =
        groups.groups().stream()
            .map(
                g ->
                    new Group(g, g.paths().stream().mapToLong(p -> read.getOrDefault(p, 0L)).sum()))
            .toList();
    return new Rehearsed(feed, result, unjudged, found, tables.rules(feed.into()));
  }

  private LoadRun.Dispatch dispatch(Feed feed) {
    return FileWorker.dispatch(
        workspace.configuration(), workspace.bareWarehouse(), feed, Optional.empty());
  }

  private static void collect(
      Feed feed, StagedFile file, RejectSpool rejects, ProblemGroups groups) {
    rejects.forEach(
        reject -> {
          Sighting sighting =
              new Sighting(
                  0,
                  file.path(),
                  reject.recordNumber(),
                  reject.line(),
                  reject.place(),
                  0,
                  Instant.now());
          reject.problems().forEach(problem -> groups.add(feed.name(), sighting, problem));
        });
  }
}
