package dev.dusky.core.ledger;

/**
 * Rows that were merged before they are taken out.
 *
 * @param merge the merge
 * @param mergeId its run
 * @param into the target, which keeps them
 * @param rows how many rows it took of what is undone
 */
public record MergedRows(String merge, long mergeId, String into, long rows) {}
