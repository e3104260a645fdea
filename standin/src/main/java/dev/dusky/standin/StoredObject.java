package dev.dusky.standin;

import java.nio.file.Path;
import java.time.Instant;
import java.util.Map;

/**
 * An object in a bucket.
 *
 * @param key its key
 * @param file where its bytes are
 * @param size how many there are
 * @param etag its entity tag, without quotes
 * @param modified when it was written
 * @param metadata the user's metadata, names without their prefix
 */
record StoredObject(
    String key,
    Path file,
    long size,
    String etag,
    Instant modified,
    Map<String, String> metadata) {}
