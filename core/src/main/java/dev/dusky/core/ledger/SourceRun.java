package dev.dusky.core.ledger;

import java.time.Instant;
import java.util.Optional;

/**
 * One staging of a source's rows.
 *
 * @param source the source
 * @param depot the depot that has the files
 * @param manifest the path of their manifest; no other run of the source has the same
 * @param newer the column of the high water
 * @param highWater the greatest value of that column up to this run
 * @param shape the columns of the query
 * @param fingerprint the checksum of all its files together
 * @param files how many files were staged
 * @param rows how many rows they have
 * @param bytes how many bytes they have
 * @param startedAt when reading began
 * @param stagedAt when all files were staged
 * @param stagedBy who ran it
 * @param host on which machine
 */
public record SourceRun(
    String source,
    String depot,
    String manifest,
    Optional<String> newer,
    Optional<String> highWater,
    String shape,
    String fingerprint,
    int files,
    long rows,
    long bytes,
    Instant startedAt,
    Instant stagedAt,
    String stagedBy,
    String host) {}
