package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Optional;

/**
 * A summary of a feed's files in the ledger.
 *
 * @param lastPost when a file was last posted
 * @param rows rows loaded within the last day
 * @param seconds how long that took
 * @param openRejects open rejects
 */
public record PostedSummary(
    Optional<Instant> lastPost, long rows, double seconds, long openRejects) {}
