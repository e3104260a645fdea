package dev.dusky.core.balance;

/**
 * A file whose rows in the table are not those in its tally.
 *
 * @param inTable rows with its numbers
 * @param twice how many of them have a row number that another one has too
 */
public record Difference(String path, long loadId, long inLedger, long inTable, long twice) {}
