package dev.dusky.core.ledger;

import dev.dusky.core.tally.Tally;
import java.time.Duration;

/** The outcome of one file in one load. */
public record TallyLine(
    long loadId,
    String path,
    String state,
    Tally tally,
    long storedBytes,
    Duration elapsed,
    String message,
    RejectCounts rejects) {}
