package dev.dusky.core.ledger;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.UUID;

/**
 * The entry of a load at its start.
 *
 * @param kind what it does
 * @param feed the feed
 * @param into the landing table
 * @param declared the feed's declaration at that time
 * @param startedBy who runs it
 * @param host on which machine
 * @param toolVersion with which version of this program
 * @param at when
 */
public record LoadStart(
    LoadKind kind,
    String feed,
    String into,
    String declared,
    String startedBy,
    String host,
    String toolVersion,
    Instant at) {

  /** A short print of the declaration, another one for any other declaration. */
  public String declaredHash() {
    return UUID.nameUUIDFromBytes(declared.getBytes(StandardCharsets.UTF_8)).toString();
  }

  /** The same for another kind of load. */
  public LoadStart as(LoadKind other) {
    return new LoadStart(other, feed, into, declared, startedBy, host, toolVersion, at);
  }
}
