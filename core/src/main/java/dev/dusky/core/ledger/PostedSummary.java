package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Optional;

/**
 * What the ledger has of a feed's files.
 *
 * @param lastPost when a file was last posted
 * @param rows rows loaded within the last day
 * @param seconds how long that took
 * @param openRejects rejects that nobody has settled
 */
public record PostedSummary(
    Optional<Instant> lastPost, long rows, double seconds, long openRejects) {}
