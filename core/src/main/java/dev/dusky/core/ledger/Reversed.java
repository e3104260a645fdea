package dev.dusky.core.ledger;

import java.util.List;

/**
 * The postings that were, or would be, undone.
 *
 * @param loadId the reversing load, or 0 if nothing was written
 * @param files the paths, sorted
 * @param rows how many rows leave the table
 * @param restored how many rows come back that the load had replaced
 */
public record Reversed(long loadId, List<String> files, long rows, long restored) {}
