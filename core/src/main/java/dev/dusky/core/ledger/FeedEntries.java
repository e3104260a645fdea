package dev.dusky.core.ledger;

import java.util.Map;
import java.util.Optional;

/** Pauses of feeds, and how watching them goes. */
public interface FeedEntries {

  /** The pause in force of a feed. */
  Optional<Pause> pause(String feed);

  /** Pauses a feed; false if it is paused already. */
  boolean pause(String feed, Pause pause);

  /** Resumes a feed; false if it was not paused. */
  boolean resume(String feed, String by);

  /** How watching a feed goes, if it was ever watched. */
  Optional<WatchEntry> watched(String feed);

  /** Enters how watching a feed goes. */
  void watched(String feed, WatchEntry entry);

  /** The number of file versions of a feed that were ever processed. */
  long dealtWith(String feed);

  /** The number of files of a feed in each state. */
  Map<FileState, Long> states(String feed);

  /** What a feed has posted. */
  PostedSummary posted(String feed);
}
