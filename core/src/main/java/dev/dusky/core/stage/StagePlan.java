package dev.dusky.core.stage;

/**
 * How local files are staged.
 *
 * @param replace whether files that are there with other content are replaced
 * @param connections how many files, and parts of large ones, are sent at a time
 * @param bytesPerSecond the rate of all of them together; 0 for any
 * @param move whether a local file is removed once the depot has been found to have its content
 */
public record StagePlan(boolean replace, int connections, long bytesPerSecond, boolean move) {}
