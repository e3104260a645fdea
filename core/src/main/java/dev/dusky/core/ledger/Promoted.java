package dev.dusky.core.ledger;

import dev.dusky.core.type.SqlType;

/**
 * The result.
 *
 * @param loadId its entry in the journal, 0 if no row had the field
 * @param column the column
 * @param type its type
 * @param rows how many rows have it from the leftovers now
 */
public record Promoted(long loadId, String column, SqlType type, long rows) {}
