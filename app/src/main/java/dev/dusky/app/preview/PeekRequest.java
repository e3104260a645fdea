package dev.dusky.app.preview;

import dev.dusky.core.preview.PreviewMode;
import java.util.List;
import java.util.Optional;

/**
 * A request to show records of a file.
 *
 * @param target a feed, or DEPOT:PATH
 * @param path the feed's file; its first one if empty
 * @param mode which records
 * @param most how many records
 * @param seed makes a random choice repeatable
 * @param layout reads the file with this layout of the configuration
 * @param with keys of the layout to set, each {@code key=value}
 * @param where only records for which this condition is true
 */
public record PeekRequest(
    String target,
    Optional<String> path,
    PreviewMode mode,
    int most,
    long seed,
    Optional<String> layout,
    List<String> with,
    Optional<String> where) {}
