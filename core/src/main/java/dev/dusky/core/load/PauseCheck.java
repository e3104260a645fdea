package dev.dusky.core.load;

import dev.dusky.core.ledger.LoadLedger;
import java.util.Optional;

/** Checks from time to time whether the feed is paused. */
final class PauseCheck {

  private static final long EVERY_NANOS = 1_000_000_000L;

  private final LoadLedger ledger;
  private final String feed;
  private Optional<String> reason = Optional.empty();
  private boolean asked;
  private long askedNanos;

  PauseCheck(LoadLedger ledger, String feed) {
    this.ledger = ledger;
    this.feed = feed;
  }

  /** Whether the feed is paused. */
  boolean paused() {
    long now = System.nanoTime();
    if (!asked || now - askedNanos > EVERY_NANOS) {
      asked = true;
      askedNanos = now;
      reason = ledger.pause(feed);
    }
    return reason.isPresent();
  }

  /** Who has paused it and why. */
  Optional<String> reason() {
    return reason;
  }
}
