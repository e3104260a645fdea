package dev.dusky.core.feed;

import dev.dusky.core.type.SqlType;

/**
 * A column that came to a feed, or became wider, because its files changed. It is in the ledger,
 * not in the configuration.
 *
 * @param name its name in the landing table
 * @param field the name or path of the field that it takes
 * @param type its type
 */
public record GrownColumn(String name, String field, SqlType type) {}
