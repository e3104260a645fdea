package dev.dusky.app.stage;

import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.source.Source;
import dev.dusky.core.source.SourceDatabases;
import dev.dusky.core.source.SourceListener;
import dev.dusky.core.source.SourceResult;
import dev.dusky.core.source.SourceStager;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BooleanSupplier;

/** Stages the rows of a source into a depot. */
public final class StageSource {

  /** How paths on the command line name sources. */
  public static final String PREFIX = "source:";

  private static final int MOST_PARALLEL = 64;

  private final Workspace workspace;
  private final String depot;
  private final Source source;

  /**
   * A staging.
   *
   * @param name the source's name
   */
  public StageSource(Workspace workspace, String depot, String name) {
    workspace.configuration().depot(depot);
    this.workspace = workspace;
    this.depot = depot;
    this.source = workspace.configuration().source(name);
  }

  /**
   * Stages what is new.
   *
   * @param all whether all rows are read, whatever was staged before
   * @param newShape whether other columns than before are accepted
   * @param connections how many files are sent at a time
   */
  public SourceResult run(
      boolean all,
      boolean newShape,
      int connections,
      SourceListener listener,
      BooleanSupplier stopped) {
    if (connections < 1 || connections > MOST_PARALLEL) {
      throw Failure.usage("--parallel must be from 1 to " + MOST_PARALLEL);
    }
    List<Feed> feeds = feeds();
    warn(feeds, listener);
    Set<String> summed = new TreeSet<>();
    feeds.forEach(feed -> summed.addAll(feed.policies().expectations().totals()));
    Path folder =
        workspace.configuration().base().resolve(".dusky-spool").resolve("source-" + source.name());
    return new SourceStager(
            source,
            workspace.depot(depot),
            workspace.warehouse().ledger().sources(),
            new SourceStager.Plan(all, newShape, connections, summed),
            listener,
            stopped)
        .run(
            folder,
            Workspace.person(),
            Workspace.host(),
            ServiceLoader.load(SourceDatabases.class)
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("the program has JDBC")));
  }

  /** The feeds that load the source's files. */
  private List<Feed> feeds() {
    String example = source.as().path(Instant.now(), 1);
    return workspace.configuration().feeds().values().stream()
        .filter(feed -> feed.depot().equals(depot) && feed.files().matches(example))
        .toList();
  }

  /** Rows within the overlap are staged again: who loads them has to remove the repeats. */
  private void warn(List<Feed> feeds, SourceListener listener) {
    if (source.newer().isEmpty()) {
      return;
    }
    for (Feed feed : feeds) {
      RepeatPolicy repeats = feed.policies().repeats();
      if (feed.policies().replaces()) {
        listener.remark(
            "Feed %s replaces its table by the newer rows of source %s only; its slices and mode do not fit"
                .formatted(feed.name(), source.name()));
      } else if (!repeats.remove() || repeats.scope() != RepeatPolicy.Scope.TABLE) {
        listener.remark(
            "Feed %s loads rows of source %s twice that are read again: give it repeats with scope: table"
                .formatted(feed.name(), source.name()));
      }
    }
  }
}
