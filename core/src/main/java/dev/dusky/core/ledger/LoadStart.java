package dev.dusky.core.ledger;

import java.time.Instant;

/**
 * What is written down when a load begins.
 *
 * @param feed the feed
 * @param into the landing table
 * @param declared the feed's declaration at that time
 * @param startedBy who runs it
 * @param host on which machine
 * @param toolVersion with which version of this program
 * @param at when
 */
public record LoadStart(
    String feed,
    String into,
    String declared,
    String startedBy,
    String host,
    String toolVersion,
    Instant at) {}
