package dev.dusky.core.ledger;

/**
 * A load to undo.
 *
 * @param feed its feed
 * @param into its landing table
 * @param kind what it did
 */
public record LoadHead(String feed, String into, String kind) {}
