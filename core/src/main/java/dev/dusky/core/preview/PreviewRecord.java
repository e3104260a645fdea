package dev.dusky.core.preview;

import java.util.List;

/**
 * A record that was looked at.
 *
 * @param number its number in the file, from 1, or 0 if that is not known
 * @param place where it is, in words
 * @param values its fields as texts, null where there is no value
 * @param problems why a load would reject it, a sentence each
 */
public record PreviewRecord(
    long number, String place, List<String> values, List<String> problems) {}
