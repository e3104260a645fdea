package dev.dusky.core.merge;

import java.time.Instant;

/**
 * Who starts a merge, and where.
 *
 * @param startedBy the person
 * @param host the machine
 * @param toolVersion the version of this program
 * @param at when
 * @param retry whether rejected rows are taken again, and no new ones
 * @param rehearsed whether it is rolled back; then this many changes are reported
 */
public record MergeStart(
    String startedBy,
    String host,
    String toolVersion,
    Instant at,
    boolean retry,
    java.util.OptionalLong rehearsed) {}
