package dev.dusky.testkit;

import java.util.Map;

/**
 * A row of a fake table.
 *
 * @param load the load that posted it
 * @param file the file that it came from
 * @param record its record's number
 * @param values its values as text, by column; null values are missing
 */
public record MemoryRow(long load, long file, long record, Map<String, String> values) {}
