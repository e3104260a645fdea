package dev.dusky.core.ledger;

import java.time.Instant;

/**
 * A feed that is held.
 *
 * @param at since when
 * @param by who did it
 * @param host on which machine
 * @param reason why
 */
public record Pause(Instant at, String by, String host, String reason) {

  @Override
  public String toString() {
    return "paused by %s on %s since %s: %s".formatted(by, host, at.toString(), reason);
  }
}
