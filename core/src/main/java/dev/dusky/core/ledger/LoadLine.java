package dev.dusky.core.ledger;

import dev.dusky.core.tally.Tally;
import java.time.Instant;
import java.util.Optional;

/** A load with its totals; {@code tally} leaves refused files out. */
public record LoadLine(
    long loadId,
    String kind,
    String feed,
    String into,
    String state,
    Instant started,
    Optional<Instant> ended,
    String by,
    long posted,
    long twins,
    long refused,
    long revised,
    long mended,
    long reversed,
    Tally tally,
    long storedBytes,
    long contentBytes,
    String message) {}
