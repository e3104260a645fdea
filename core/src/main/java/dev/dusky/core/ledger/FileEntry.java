package dev.dusky.core.ledger;

import java.util.Optional;

/**
 * A file as the ledger knows it.
 *
 * @param fileId its number
 * @param path its path in the depot
 * @param version size and mark at that time
 * @param state where it is
 * @param loadId the load that last processed it
 * @param message what that load had to say of it
 * @param declared the print of the feed's declaration in that load
 */
public record FileEntry(
    long fileId,
    String path,
    String version,
    FileState state,
    Optional<Long> loadId,
    Optional<String> message,
    Optional<String> declared) {}
