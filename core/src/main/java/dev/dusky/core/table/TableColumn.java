package dev.dusky.core.table;

import dev.dusky.core.type.SqlType;
import java.util.Optional;

/**
 * A column of a table in the warehouse.
 *
 * @param name its name
 * @param type its type, or empty if it is none of ours
 * @param typeText the type as the warehouse names it
 * @param notNull whether it refuses null
 * @param filled whether the warehouse fills it (a default, an identity, a generated value)
 */
public record TableColumn(
    String name, Optional<SqlType> type, String typeText, boolean notNull, boolean filled) {}
