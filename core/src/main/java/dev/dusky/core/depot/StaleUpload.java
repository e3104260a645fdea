package dev.dusky.core.depot;

import java.time.Instant;

/**
 * An upload in parts that was begun and never finished; its parts take up room.
 *
 * @param path the path of the file that it was to become
 * @param id how the store calls it
 * @param begun when it began
 */
public record StaleUpload(String path, String id, Instant begun) {}
