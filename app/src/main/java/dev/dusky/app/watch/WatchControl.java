package dev.dusky.app.watch;

import dev.dusky.app.workspace.FeedStatus;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** What a person can ask of a watcher, and have it do, while it runs. */
public interface WatchControl {

  /** How long until a feed is scanned again; empty while it is scanned. */
  Optional<Duration> next(String feed);

  /** How many times in a row the scan of a feed has failed. */
  int failures(String feed);

  /** Scans a feed as soon as a thread is free, even if it failed a moment ago. */
  void scan(String feed);

  /** Pauses a feed in the ledger, for every process. */
  PauseFeeds.Outcome pause(String feed);

  /** Resumes a feed in the ledger, and scans it. */
  PauseFeeds.Outcome resume(String feed);

  /** The state of all feeds that are watched; lists their depots. */
  List<FeedStatus> status();
}
