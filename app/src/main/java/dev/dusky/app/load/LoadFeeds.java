package dev.dusky.app.load;

import dev.dusky.app.workspace.RejectDelivery;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.load.FeedLoader;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.load.LoadRun;
import dev.dusky.core.preview.FittingFeed;
import dev.dusky.core.tally.Tolerance;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;

/** Loads feeds' waiting files. */
public final class LoadFeeds {

  /** Follows the loads. */
  public interface Listener {

    /** Loads of dead processes were found and marked as interrupted. */
    void interrupted(List<Long> loads);

    /** Something that people should know before it begins. */
    void note(String text);

    /** Follows the files of a feed. */
    LoadListener of(Feed feed);

    /** A feed is loaded. */
    void loaded(LoadResult result);

    /** Rejects were delivered to a depot. */
    void delivered(String text);

    /** Rejects could not be delivered. */
    void undelivered(String text);
  }

  private final Workspace workspace;
  private final Listener listener;
  private final BooleanSupplier stopped;
  private final Optional<Tolerance> tolerance;
  private final boolean anyVolume;
  private final boolean onEngine;

  /**
   * Loads.
   *
   * @param stopped asked between batches; loads end as interrupted once it is true
   * @param tolerance replaces the feeds' own tolerance
   * @param anyVolume whether no file is refused for its volume
   * @param onEngine whether files are attempted on the warehouse's engine
   */
  public LoadFeeds(
      Workspace workspace,
      Listener listener,
      BooleanSupplier stopped,
      Optional<Tolerance> tolerance,
      boolean anyVolume,
      boolean onEngine) {
    this.workspace = workspace;
    this.listener = listener;
    this.stopped = stopped;
    this.tolerance = tolerance;
    this.anyVolume = anyVolume;
    this.onEngine = onEngine;
  }

  /** The tolerance that an option gives. */
  public static Tolerance tolerance(String text) {
    return Tolerance.parse(text)
        .orElseThrow(
            () ->
                Failure.usage("--tolerance cannot be '" + text + "'")
                    .hint("Write a count (25), a share (0.5%) or any"));
  }

  /** Loads these feeds, one after the other; returns whether every file could be loaded. */
  public boolean run(ChosenFiles files) {
    files.notes().forEach(listener::note);
    listener.interrupted(workspace.closeInterrupted());
    boolean clean = true;
    for (Feed feed : files.feeds()) {
      clean &= load(feed, files).clean();
    }
    return clean;
  }

  private LoadResult load(Feed declared, ChosenFiles files) {
    Feed feed = declared.withPolicies(chosen(declared.policies()));
    LoadRun run =
        LoadRun.of(feed, workspace.depot(feed), listener.of(feed), stopped)
            .withFitting(new FittingFeed(workspace.configuration().feedsOf(feed)))
            .withSelection(files.selection(feed))
            .withDispatch(onEngine ? Optional.of(dispatch(feed)) : Optional.empty());
    LoadResult result =
        new FeedLoader(workspace.warehouse().ledger(), workspace.warehouse().tables(), run)
            .run(workspace.start(feed));
    listener.loaded(result);
    new RejectDelivery(listener::delivered, listener::undelivered, workspace, feed)
        .deliver(result.loadId());
    return result;
  }

  private LoadRun.Dispatch dispatch(Feed feed) {
    return FileWorker.dispatch(workspace.configuration(), workspace.warehouse(), feed, tolerance);
  }

  /** The feed's policies with what the command line says instead. */
  private FeedPolicies chosen(FeedPolicies declared) {
    FeedPolicies policies = tolerance.map(declared::withTolerance).orElse(declared);
    Expectations expected = policies.expectations();
    return anyVolume
        ? policies.withExpectations(
            expected.withVolume(expected.volume().map(VolumePolicy::anyVolume)))
        : policies;
  }
}
