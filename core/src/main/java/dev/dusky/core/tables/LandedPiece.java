package dev.dusky.core.tables;

/**
 * Some of the rows that a landing table has, for another machine to read.
 *
 * @param table where the table is described
 * @param rows names the rows in it, for {@link DetachedTable#landed}
 */
public record LandedPiece(String table, String rows) {}
