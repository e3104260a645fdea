package dev.dusky.core.ledger;

import java.time.Instant;

/**
 * When a kind of problem was first met.
 *
 * @param loadId in which load
 * @param at when
 */
public record FirstReject(long loadId, Instant at) {}
