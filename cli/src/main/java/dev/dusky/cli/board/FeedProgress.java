package dev.dusky.cli.board;

import dev.dusky.app.workspace.FeedStatus;
import dev.dusky.cli.render.FileInProgress;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.Pause;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.load.LoadResult;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Follows one feed while it is watched: the files in progress, and what the last listing found. */
final class FeedProgress implements LoadListener {

  private final Feed feed;
  private final Map<String, FileInProgress> inProgress = new LinkedHashMap<>();
  private Optional<FeedStatus> status = Optional.empty();
  private Optional<Instant> posted = Optional.empty();
  private Optional<String> failure = Optional.empty();
  private Optional<String> pause = Optional.empty();
  private FeedView.Since since = FeedView.Since.NOTHING;
  private boolean scanning;

  /** How many of those that waited by the last listing are settled since, and how. */
  private long settled;

  private long refused;
  private long revised;
  private long rejects;

  private long begunNanos;
  private long rows;
  private double perSecond;

  FeedProgress(Feed feed) {
    this.feed = feed;
  }

  synchronized void scanning() {
    scanning = true;
    rows = 0;
    begunNanos = 0;
  }

  @Override
  public synchronized void started(StagedFile file) {
    if (begunNanos == 0) {
      begunNanos = System.nanoTime();
    }
    inProgress.put(file.path(), new FileInProgress(file.path(), file.size(), 0, 0));
  }

  @Override
  public synchronized void progress(StagedFile file, long read, long storedBytes) {
    inProgress.computeIfPresent(
        file.path(), (path, known) -> new FileInProgress(path, known.bytes(), storedBytes, read));
    speed();
  }

  private void speed() {
    long read = rows + inProgress.values().stream().mapToLong(FileInProgress::rows).sum();
    double seconds = (System.nanoTime() - begunNanos) / 1e9;
    if (read > 0 && seconds > 0) {
      perSecond = read / seconds;
    }
  }

  @Override
  public synchronized void finished(FileResult result) {
    inProgress.remove(result.file().path());
    FileState state = result.state();
    if (state == FileState.WAITING) {
      return;
    }
    settled++;
    refused += state == FileState.REFUSED ? 1 : 0;
    revised += state == FileState.REVISED ? 1 : 0;
    rejects += state == FileState.POSTED ? result.tally().rejected() : 0;
    rows += result.tally().read();
    if (begunNanos != 0) {
      speed();
    }
    boolean well = state == FileState.POSTED;
    if (well) {
      posted = Optional.of(Instant.now());
    }
    since =
        since.plus(
            new FeedView.Since(
                well ? 1 : 0,
                state == FileState.REFUSED ? 1 : 0,
                well ? result.tally().loaded() : 0));
  }

  synchronized void scanned(LoadResult result) {
    ended();
    failure = Optional.empty();
    pause = result.aside().pause();
  }

  synchronized void failed(String text) {
    ended();
    failure = Optional.of(text);
  }

  /** Nothing is in progress once a scan has ended, however it ended. */
  private void ended() {
    scanning = false;
    inProgress.clear();
  }

  /** Takes what a listing found. */
  synchronized void status(FeedStatus now) {
    status = Optional.of(now);
    pause = now.pause().map(Object::toString);
    settled = 0;
    refused = 0;
    revised = 0;
    rejects = 0;
  }

  /** Takes the pause that a key has set; none if it was resumed. */
  synchronized void paused(Optional<Pause> now) {
    pause = now.map(Object::toString);
  }

  synchronized FeedView view(Optional<Duration> next, int failures) {
    Optional<Instant> known = status.flatMap(s -> s.posted().lastPost());
    return new FeedView(
        feed.name(),
        word(failures),
        status.filter(s -> s.unlisted().isEmpty()).map(s -> Math.max(0, s.waiting() - settled)),
        new ArrayList<>(inProgress.values()),
        perSecond,
        rejects + status.map(s -> s.posted().openRejects()).orElse(0L),
        refused + count(FileState.REFUSED),
        revised + count(FileState.REVISED),
        status.map(FeedStatus::missing).orElse(0L),
        posted.isPresent() ? posted : known,
        next,
        pause,
        failures,
        failure,
        since,
        feed.depot() + ":" + feed.files() + " into " + feed.into());
  }

  private long count(FileState state) {
    return status.map(s -> s.states().getOrDefault(state, 0L)).orElse(0L);
  }

  private String word(int failures) {
    if (!inProgress.isEmpty()) {
      return "loading";
    }
    if (scanning) {
      return "scanning";
    }
    if (pause.isPresent()) {
      return "paused";
    }
    if (failures > 0) {
      return "failing";
    }
    long left = status.map(s -> s.waiting() - settled).orElse(0L);
    return status.isEmpty() ? "starting" : left > 0 ? "waiting" : "current";
  }
}
