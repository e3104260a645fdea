package dev.dusky.core.usage;

import java.time.LocalDate;

/**
 * What the loads of a feed, or the runs of a merge, used on one day (UTC).
 *
 * @param name the feed or merge
 * @param merge whether it is a merge
 * @param runs how many loads or runs
 * @param files how many files they posted or merged
 * @param rows how many rows they loaded, or merged
 */
public record UsageLine(
    String name, boolean merge, LocalDate day, long runs, long files, long rows, Usage usage) {}
