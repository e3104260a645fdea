package dev.dusky.core.report;

import dev.dusky.core.tally.Tally;
import java.time.Duration;
import java.time.Instant;

/**
 * One file's outcome in one load.
 *
 * @param state what the load made of it
 * @param now the state of the file today
 * @param tally its tally; rows of a refused file were read and not loaded
 * @param bytes its stored size
 * @param into the table
 * @param message why it was refused, or whose twin it is; empty otherwise
 */
public record FileSum(
    String feed,
    String path,
    long load,
    String state,
    String now,
    Instant at,
    Tally tally,
    long bytes,
    Duration elapsed,
    String into,
    String message) {}
