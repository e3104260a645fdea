package dev.dusky.core.ledger;

/** Rejects of a merge that have the same reason; {@code key} is one of their keys. */
public record MergeRejectLine(String code, String column, long rows, long open, String key) {}
