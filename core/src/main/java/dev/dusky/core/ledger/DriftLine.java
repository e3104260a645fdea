package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Optional;

/** One way in which a file differed from its feed. */
public record DriftLine(
    String feed,
    long loadId,
    String path,
    String fileState,
    String field,
    String change,
    String seen,
    String action,
    long records,
    String example,
    Optional<String> statement,
    String remark,
    Instant at) {}
