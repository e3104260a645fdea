package dev.dusky.core.record;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.layout.DelimitedLayout;
import java.nio.charset.StandardCharsets;

/**
 * The hot loop for records of the plainest sort: one delimiter byte, no escape character, nothing
 * trimmed, each record on one line. It finds the bytes that matter in blocks of 64 and keeps all
 * state in local variables, which is why it is one long method. Whatever is not plain it leaves to
 * {@link DelimitedScanner}, record by record.
 */
final class PlainRecords {

  private final boolean usable;
  private final byte delimiter;
  private final byte quote;
  private final byte lineEnd;
  private final long delimiterPattern;
  private final long quotePattern;
  private final long lineEndPattern;

  PlainRecords(DelimitedLayout layout, byte lineEnd) {
    byte[] bytes = layout.delimiter().getBytes(StandardCharsets.UTF_8);
    this.usable =
        bytes.length == 1
            && (layout.escape() < 0 || layout.escape() == layout.quote())
            && !layout.trim()
            && !layout.trailingDelimiter()
            && layout.comment().isEmpty();
    this.delimiter = bytes[0];
    this.quote = layout.quote() < 0 ? bytes[0] : (byte) layout.quote();
    this.lineEnd = lineEnd;
    this.delimiterPattern = ByteWords.repeat(delimiter);
    this.quotePattern = ByteWords.repeat(quote);
    this.lineEndPattern = ByteWords.repeat(lineEnd);
  }

  /** Whether the layout allows plain records at all. */
  boolean usable() {
    return usable;
  }

  /**
   * Adds plain records from {@code from} on.
   *
   * @param most how many records the batch may hold
   * @param fieldLimit how many fields a record may have
   * @return where the first record starts that is not plain or not whole
   */
  int scan(RecordBatch out, int from, int limit, long firstLine, int most, int fieldLimit) {
    byte[] b = out.bytes();
    byte d = delimiter;
    byte n = lineEnd;
    int[] starts = out.fieldStarts();
    int[] ends = out.fieldEnds();
    int fields = out.fields();
    int firstField = fields;
    int room = starts.length - 1;
    int start = from;
    int fieldStart = from;
    long line = firstLine;
    int block = from - 64;
    long bits = 0;
    while (true) {
      while (bits == 0) {
        block += 64;
        if (block >= limit) {
          return start;
        }
        bits = specials(b, block);
      }
      int at = block + Long.numberOfTrailingZeros(bits);
      bits &= bits - 1;
      if (at >= limit || fields >= room) {
        return start;
      }
      byte c = b[at];
      if (c == d) {
        starts[fields] = fieldStart;
        ends[fields++] = at << 2;
        fieldStart = at + 1;
        continue;
      }
      int end = at;
      if (c != n) {
        if (at != fieldStart) {
          continue; // a quote inside a field is literal
        }
        int flags = RecordBatch.QUOTED;
        while (true) {
          while (bits == 0) {
            block += 64;
            if (block >= limit) {
              return start;
            }
            bits = specials(b, block);
          }
          end = block + Long.numberOfTrailingZeros(bits);
          bits &= bits - 1;
          if (end + 2 >= limit || b[end] == n) {
            return start;
          }
          if (b[end] == quote) {
            if (b[end + 1] != quote) {
              break;
            }
            flags |= RecordBatch.ESCAPED;
            if (bits == 0) {
              return start; // the second quote is in the next block
            }
            bits &= bits - 1;
          }
        }
        starts[fields] = at + 1;
        ends[fields++] = end << 2 | flags;
        fieldStart = end + 2;
        byte after = b[end + 1];
        if (after != d && after != n) {
          return start;
        }
        if (bits == 0) { // the delimiter or line end is in the next block
          block += 64;
          bits = specials(b, block);
        }
        bits &= bits - 1;
        if (after == d) {
          continue;
        }
        end++;
      } else {
        while (n == '\n' && end > fieldStart && b[end - 1] == '\r') {
          end--;
        }
        if (end == start) {
          return start; // a blank line
        }
        starts[fields] = fieldStart;
        ends[fields++] = end << 2;
        fieldStart = at + 1;
      }
      if (fields - firstField > fieldLimit) {
        return start;
      }
      firstField = fields;
      out.finishPlain(start, end, line++, fields);
      start = fieldStart;
      if (out.records() == most) {
        return start;
      }
    }
  }

  /** A bit for each of 64 bytes that is a delimiter, quote or line end. */
  private long specials(byte[] b, int from) {
    long result = 0;
    for (int i = 0; i < 64; i += 8) {
      long word = ByteWords.at(b, from + i);
      result |=
          ByteWords.hits(
                  ByteWords.misses(word, delimiterPattern)
                      & ByteWords.misses(word, quotePattern)
                      & ByteWords.misses(word, lineEndPattern))
              << i;
    }
    return result;
  }
}
