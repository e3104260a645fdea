package dev.dusky.core.report;

import java.time.Instant;
import java.util.Optional;

/**
 * The rejects of a feed with the same reason. A record with several problems counts under its
 * first.
 *
 * @param column the column; empty if the whole record is at fault
 * @param open how many are open
 * @param oldest when the oldest of the open ones was recorded
 * @param example a raw value of one of them
 * @param message what was said of it
 */
public record RejectSum(
    String feed,
    String column,
    String code,
    long open,
    long mended,
    long waived,
    Optional<Instant> oldest,
    String example,
    String message) {}
