package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/** Pauses of feeds, and the state of watching them. */
public interface FeedEntries {

  /** The pause in force of a feed. */
  Optional<Pause> pause(String feed);

  /** Pauses a feed; false if it is paused already. */
  boolean pause(String feed, Pause pause);

  /** Resumes a feed; false if it was not paused. */
  boolean resume(String feed, String by);

  /** The state of watching a feed, if it was ever watched. */
  Optional<WatchEntry> watched(String feed);

  /** Enters the state of watching a feed. */
  void watched(String feed, WatchEntry entry);

  /** The number of file versions of a feed that were ever processed. */
  long dealtWith(String feed);

  /** The number of files of a feed in each state. */
  Map<FileState, Long> states(String feed);

  /**
   * The files of which the latest version waits for a person. Some may have left the depot.
   *
   * @param most how many paths are given
   */
  HeldFiles held(String feed, int most);

  /**
   * How many rejects are open, of files that are not refused, and were recorded before that time.
   */
  long openRejectsBefore(String feed, Instant time);

  /** When the first file of a feed was seen. */
  Optional<Instant> firstSeen(String feed);

  /**
   * The files of a feed that were seen since then: each path with the time of its first version.
   */
  Map<String, Instant> arrived(String feed, Instant since);

  /** The posted files of a feed. */
  PostedSummary posted(String feed);
}
