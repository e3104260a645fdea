package dev.dusky.core.split;

import java.math.BigDecimal;
import java.util.Map;

/**
 * A part of a file's uncompressed bytes: whole records.
 *
 * @param number from 1
 * @param head how many bytes from the file's beginning precede its first record; each part begins
 *     with them
 * @param start where its first record starts
 * @param end where the next part's first record starts, or the file ends
 * @param rows how many rows its records give
 * @param totals the sums of columns over them that the feed keeps sums of
 */
public record Cut(
    int number, long head, long start, long end, long rows, Map<String, BigDecimal> totals) {}
