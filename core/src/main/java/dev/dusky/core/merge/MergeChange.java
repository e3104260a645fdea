package dev.dusky.core.merge;

import java.util.Map;

/**
 * A row of the target before and after a merge.
 *
 * @param before its values by column; empty for a row that is added
 * @param after its values by column; empty for a deleted row
 */
public record MergeChange(Map<String, Object> before, Map<String, Object> after) {}
