package dev.dusky.core.reject;

import java.util.List;

/**
 * One record that could not be loaded.
 *
 * @param recordNumber the record's number in its file, from 1, header not counted
 * @param line the physical line on which it starts, from 1
 * @param byteOffset where it starts in the file's uncompressed bytes, from 0
 * @param place how messages name its place where it has no line, or an empty text
 * @param raw the record's bytes as they are in the file, without the line end
 * @param rawCut whether {@code raw} is only the beginning of a record over the size limit
 * @param piece which row of the record it is, from 0, where a record gives several rows
 * @param context what the record needs besides its own bytes to be read again: values carried onto
 *     it, as a JSON array; or nothing
 * @param problems everything that is wrong with it, at least one
 */
public record Reject(
    long recordNumber,
    long line,
    long byteOffset,
    String place,
    byte[] raw,
    boolean rawCut,
    int piece,
    byte[] context,
    List<Problem> problems) {

  /** No context. */
  public static final byte[] NO_CONTEXT = new byte[0];

  /** The same reject with its number and line counted on from others. */
  public Reject behind(long records, long lines) {
    return new Reject(
        records + recordNumber,
        lines + line,
        byteOffset,
        place,
        raw,
        rawCut,
        piece,
        context,
        problems);
  }

  /** The same reject with these problems. */
  public Reject withProblems(List<Problem> others) {
    return new Reject(recordNumber, line, byteOffset, place, raw, rawCut, piece, context, others);
  }
}
