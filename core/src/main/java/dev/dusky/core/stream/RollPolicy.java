package dev.dusky.core.stream;

import java.time.Duration;

/**
 * When a file of a stream ends.
 *
 * @param bytes once it has at least this many uncompressed bytes
 * @param age once its first record is this old
 */
public record RollPolicy(long bytes, Duration age) {}
