package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.Dispatcher;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.expect.Volume;
import dev.dusky.core.feed.Feed;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;

/**
 * The context that all files of a load share.
 *
 * @param feed the feed
 * @param depot where its files are
 * @param listener receives the progress
 * @param stopped asked between batches; once it says true the load ends as interrupted
 * @param fitting finds the feed that a wrong file belongs to
 * @param selection the files to load; default: all waiting files of the feed
 * @param retries whether what waits for a person is left alone, and what counts as unchanged
 * @param mostRows about how many rows of one file are read; what is behind them is left out
 * @param past the volumes of earlier files, if the feed may refuse a file for its volume
 * @param dispatch where files are attempted, if not here
 */
public record LoadRun(
    Feed feed,
    Depot depot,
    LoadListener listener,
    BooleanSupplier stopped,
    FeedFinder fitting,
    Optional<Selection> selection,
    RetryPolicy retries,
    long mostRows,
    List<Volume> past,
    Optional<Dispatch> dispatch) {

  /**
   * Where files are attempted, if not here.
   *
   * @param dispatcher attempts them
   * @param order what the attempts have in common
   */
  public record Dispatch(Dispatcher dispatcher, DispatchOrder order) {}

  /** A load of all waiting files. */
  public static LoadRun of(Feed feed, Depot depot, LoadListener listener, BooleanSupplier stopped) {
    return new LoadRun(
        feed,
        depot,
        listener,
        stopped,
        FeedFinder.NONE,
        Optional.empty(),
        RetryPolicy.NONE,
        Long.MAX_VALUE,
        List.of(),
        Optional.empty());
  }

  /** The same with files fetched in another way. */
  LoadRun withDepot(Depot other) {
    return new LoadRun(
        feed, other, listener, stopped, fitting, selection, retries, mostRows, past, dispatch);
  }

  /** The same with another form of the feed. */
  LoadRun withFeed(Feed other) {
    return new LoadRun(
        other, depot, listener, stopped, fitting, selection, retries, mostRows, past, dispatch);
  }

  /** The same with the feeds that a wrong file may belong to. */
  public LoadRun withFitting(FeedFinder other) {
    return new LoadRun(
        feed, depot, listener, stopped, other, selection, retries, mostRows, past, dispatch);
  }

  /** The same with these files only. */
  public LoadRun withSelection(Optional<Selection> other) {
    return new LoadRun(
        feed, depot, listener, stopped, fitting, other, retries, mostRows, past, dispatch);
  }

  /** The same leaving alone what waits for a person. */
  public LoadRun withRetries(RetryPolicy other) {
    return new LoadRun(
        feed, depot, listener, stopped, fitting, selection, other, mostRows, past, dispatch);
  }

  /** The same reading only the beginning of each file. */
  public LoadRun withMostRows(long other) {
    return new LoadRun(
        feed, depot, listener, stopped, fitting, selection, retries, other, past, dispatch);
  }

  /** The same with the volumes of earlier files. */
  LoadRun withPast(List<Volume> other) {
    return new LoadRun(
        feed, depot, listener, stopped, fitting, selection, retries, mostRows, other, dispatch);
  }

  /** The same with files attempted elsewhere. */
  public LoadRun withDispatch(Optional<Dispatch> other) {
    return new LoadRun(
        feed, depot, listener, stopped, fitting, selection, retries, mostRows, past, other);
  }

  /** Whether files are loaded although they may be posted. */
  boolean again() {
    return selection.map(Selection::again).orElse(false);
  }

  /** The figures of a manifest for a file. */
  Optional<Manifest.Entry> entry(String path) {
    return selection.flatMap(Selection::manifest).flatMap(manifest -> manifest.entry(path));
  }
}
