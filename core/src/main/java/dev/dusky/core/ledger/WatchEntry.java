package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Optional;

/**
 * The state of watching a feed.
 *
 * @param lookedAt when its depot was last looked at
 * @param lookedBy by which process
 * @param failures how many times in a row that failed
 * @param failure why it failed last
 * @param retryAt when it is tried again
 */
public record WatchEntry(
    Instant lookedAt,
    String lookedBy,
    int failures,
    Optional<String> failure,
    Optional<Instant> retryAt) {}
