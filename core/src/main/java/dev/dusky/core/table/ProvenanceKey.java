package dev.dusky.core.table;

/**
 * The rows that one load posted of one file.
 *
 * @param loadId the load
 * @param fileId the file
 */
public record ProvenanceKey(long loadId, long fileId) {}
