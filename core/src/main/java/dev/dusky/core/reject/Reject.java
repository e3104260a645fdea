package dev.dusky.core.reject;

import java.util.List;

/**
 * One record that could not be loaded.
 *
 * @param recordNumber the record's number in its file, from 1, header not counted
 * @param line the physical line on which it starts, from 1
 * @param byteOffset where it starts in the file's uncompressed bytes, from 0
 * @param raw the record's bytes as they stand in the file, without the line end
 * @param rawCut whether {@code raw} is only the beginning of a record over the size limit
 * @param problems everything that is wrong with it, at least one
 */
public record Reject(
    long recordNumber,
    long line,
    long byteOffset,
    byte[] raw,
    boolean rawCut,
    List<Problem> problems) {}
