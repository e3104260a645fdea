package dev.dusky.core.source;

import dev.dusky.core.ledger.SourceRun;
import java.time.Duration;
import java.util.Optional;

/**
 * What came of staging a source.
 *
 * @param source the source
 * @param run the run, if there were rows
 * @param continued whether it is one that was stopped earlier and is complete now
 * @param from from which value of {@code newer} on rows were read
 * @param elapsed how long it took
 */
public record SourceResult(
    String source,
    Optional<SourceRun> run,
    boolean continued,
    Optional<String> from,
    Duration elapsed) {}
