package dev.dusky.core.merge;

import java.math.BigDecimal;
import java.util.Optional;

/**
 * Each file of the source is a full snapshot: what happens to keys that are not in it.
 *
 * @param then what is done
 * @param into the target's column to mark or end with; empty where a history ends
 * @param most the largest share of the target's live rows that may go, in percent
 */
public record SnapshotPolicy(GoneKeys then, Optional<String> into, BigDecimal most) {}
