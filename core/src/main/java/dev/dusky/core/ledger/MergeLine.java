package dev.dusky.core.ledger;

import dev.dusky.core.merge.MergeTally;
import java.time.Instant;
import java.util.Optional;

/** One run of a merge. */
public record MergeLine(
    long mergeId,
    String merge,
    String source,
    String into,
    String existing,
    String state,
    boolean retry,
    Instant started,
    Optional<Instant> ended,
    String by,
    MergeTally tally,
    long files,
    String message) {}
