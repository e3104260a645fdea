package dev.dusky.core.record;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.reject.RejectCode;
import java.nio.charset.StandardCharsets;

/**
 * The hot loop of delimited text: finds the bytes that matter in blocks of 64 and splits records
 * and fields there. Written for speed; all policy that can wait is elsewhere.
 *
 * <p>A broken quote costs one record. The damaged record runs to the end of the physical line on
 * which the broken field's quote opens; reading continues with the next line. A quote is broken
 * when something other than a delimiter or a line end follows the closing quote, or when no closing
 * quote comes before the end of the file or the record limit.
 */
final class DelimitedScanner implements RecordScanner {

  private static final int INCOMPLETE = -1;
  private static final int RAW_KEPT = 64 << 10;

  private final byte[] delimiter;
  private final byte delimiter0;
  private final int delimiterLength;
  private final int quote;
  private final int escape;
  private final byte lineEnd;
  private final byte[] comment;
  private final boolean trim;
  private final boolean trailingDelimiter;
  private final int fieldLimit;
  private final long delimiterPattern;
  private final long quotePattern;
  private final long lineEndPattern;
  private final long escapePattern;

  private final PlainRecords plain;

  private long line;
  private int block;
  private long bits;
  private boolean skipping;
  private int openQuote;
  private int innerLines;
  private boolean innerEscape;

  DelimitedScanner(DelimitedLayout layout, byte lineEnd, long firstLine) {
    this.delimiter = layout.delimiter().getBytes(StandardCharsets.UTF_8);
    this.delimiter0 = delimiter[0];
    this.delimiterLength = delimiter.length;
    this.quote = layout.quote();
    this.escape = layout.escape() == layout.quote() ? DelimitedLayout.NONE : layout.escape();
    this.lineEnd = lineEnd;
    this.comment = layout.comment().getBytes(StandardCharsets.UTF_8);
    this.trim = layout.trim();
    this.trailingDelimiter = layout.trailingDelimiter();
    this.fieldLimit = layout.fieldLimit();
    this.delimiterPattern = ByteWords.repeat(delimiter0);
    this.lineEndPattern = ByteWords.repeat(lineEnd);
    this.quotePattern = quote < 0 ? delimiterPattern : ByteWords.repeat(quote);
    this.escapePattern = escape < 0 ? delimiterPattern : ByteWords.repeat(escape);
    this.plain = new PlainRecords(layout, lineEnd);
    this.line = firstLine;
  }

  @Override
  public long line() {
    return line;
  }

  @Override
  public boolean skipping() {
    return skipping;
  }

  @Override
  public int scan(RecordBatch out, int from, int limit, Behind behind, int mostRecords) {
    byte[] b = out.bytes();
    int pos = from;
    if (skipping) {
      int end = find(lineEnd, b, pos, limit);
      if (end < 0) {
        return limit;
      }
      skipping = false;
      line++;
      pos = end + 1;
    }
    int most = out.records() + mostRecords;
    while (out.records() < most && pos < limit) {
      if (plain.usable()) {
        int before = out.records();
        pos = plain.scan(out, pos, limit, line, most, fieldLimit);
        line += out.records() - before;
        if (out.records() == most || pos >= limit) {
          return pos;
        }
      }
      int next = passOver(b, pos, limit, behind);
      if (next == pos) {
        next = record(out, b, pos, limit, behind);
      }
      if (next == INCOMPLETE) {
        out.dropOpenFields();
        return pos;
      }
      pos = next;
    }
    return pos;
  }

  /** Either its quote is broken, or it is too large and the rest of its line is skipped. */
  @Override
  public int giveUp(RecordBatch out, int start, int limit) {
    byte[] b = out.bytes();
    if (openQuote >= start) {
      int next = broken(out, b, start, limit, Behind.MORE, "is not closed within the record limit");
      if (next != INCOMPLETE) {
        return next;
      }
    }
    String message = "the record has more than %,d bytes without an end".formatted(limit - start);
    RecordFault fault = new RecordFault(RejectCode.RECORD_TOO_LARGE, 0, message);
    out.finishFaulty(start, Math.min(limit, start + RAW_KEPT), line, fault);
    skipping = true;
    return limit;
  }

  /** Skips one blank or comment line; gives {@code pos} itself if there is none. */
  private int passOver(byte[] b, int pos, int limit, Behind behind) {
    byte first = b[pos];
    if (first == lineEnd) {
      line++;
      return pos + 1;
    }
    if (first == '\r') {
      int end = passCrs(b, pos, limit);
      if (end == limit) {
        return behind == Behind.END ? limit : INCOMPLETE;
      }
      if (b[end] == lineEnd) {
        line++;
        return end + 1;
      }
    }
    if (comment.length == 0 || first != comment[0]) {
      return pos;
    }
    if (limit - pos < comment.length && behind == Behind.MORE) {
      return INCOMPLETE;
    }
    if (!matches(comment, b, pos, limit)) {
      return pos;
    }
    int end = find(lineEnd, b, pos, limit);
    if (end < 0) {
      return behind == Behind.END ? limit : INCOMPLETE;
    }
    line++;
    return end + 1;
  }

  /** One record from its first byte; gives the position behind it, or INCOMPLETE. */
  private int record(RecordBatch out, byte[] b, int start, int limit, Behind behind) {
    int fieldStart = start;
    int lines = 0;
    boolean escaped = false;
    openQuote = -1;
    seek(b, start);
    for (int at = next(b, limit); at < limit; at = next(b, limit)) {
      byte c = b[at];
      if (at < fieldStart) {
        continue; // the rest of a delimiter of several characters
      }
      if (c == delimiter0) {
        if (delimiterLength > 1) {
          if (limit - at < delimiterLength && behind == Behind.MORE) {
            return INCOMPLETE;
          }
          if (!matches(delimiter, b, at, limit)) {
            continue;
          }
        }
        out.addField(fieldStart, at, false, escaped);
        escaped = false;
        fieldStart = at + delimiterLength;
      } else if (c == lineEnd) {
        int end = withoutCr(b, fieldStart, at);
        out.addField(fieldStart, end, false, escaped);
        finish(out, start, end, lines);
        return at + 1;
      } else if (c == escape && escape >= 0) {
        if (at + 1 >= limit && behind == Behind.MORE) {
          return INCOMPLETE;
        }
        escaped = true;
        lines += at + 1 < limit && b[at + 1] == lineEnd ? 1 : 0;
        seek(b, at + 2);
      } else if (at == fieldStart || trim && blank(b, fieldStart, at)) {
        openQuote = at;
        int close = closingQuote(b, limit, behind);
        if (close < 0) {
          return behind == Behind.MORE
              ? INCOMPLETE
              : broken(out, b, start, limit, behind, "is never closed");
        }
        lines += innerLines;
        int after = trim ? passBlanks(b, close + 1, limit) : close + 1;
        int rest = limit - after;
        if (rest < Math.max(2, delimiterLength) && behind == Behind.MORE) {
          return INCOMPLETE;
        }
        if (behind == Behind.MORE && passCrs(b, after, limit) == limit) {
          return INCOMPLETE;
        }
        int lineEndLength = lineEndAt(b, after, limit);
        if (lineEndLength >= 0) {
          out.addField(at + 1, close, true, innerEscape);
          finish(out, start, after, lines);
          return after + lineEndLength;
        }
        if (!matches(delimiter, b, after, limit)) {
          return broken(out, b, start, limit, behind, "is closed, but other text follows");
        }
        out.addField(at + 1, close, true, innerEscape);
        openQuote = -1;
        fieldStart = after + delimiterLength;
      }
    }
    if (behind == Behind.MORE) {
      return INCOMPLETE;
    }
    int end = withoutCr(b, fieldStart, limit);
    out.addField(fieldStart, end, false, escaped);
    finish(out, start, end, lines);
    return limit;
  }

  /** Makes {@link #next} continue at a position. */
  private void seek(byte[] b, int position) {
    block = position;
    bits = specials(b, position);
  }

  /** The position of the next delimiter, quote, escape or line end, or one at or over the limit. */
  private int next(byte[] b, int limit) {
    while (bits == 0) {
      block += 64;
      if (block >= limit) {
        return limit;
      }
      bits = specials(b, block);
    }
    int at = block + Long.numberOfTrailingZeros(bits);
    bits &= bits - 1;
    return at;
  }

  /** A bit for each of 64 bytes that is a delimiter, quote, escape or line end. */
  private long specials(byte[] b, int from) {
    long result = 0;
    for (int i = 0; i < 64; i += 8) {
      long word = ByteWords.at(b, from + i);
      long misses =
          ByteWords.misses(word, delimiterPattern)
              & ByteWords.misses(word, quotePattern)
              & ByteWords.misses(word, lineEndPattern);
      if (escape >= 0) {
        misses &= ByteWords.misses(word, escapePattern);
      }
      result |= ByteWords.hits(misses) << i;
    }
    return result;
  }

  /** Finds the closing quote, counting lines and noting doubled or escaped characters. */
  private int closingQuote(byte[] b, int limit, Behind behind) {
    innerLines = 0;
    innerEscape = false;
    for (int at = next(b, limit); at < limit; at = next(b, limit)) {
      byte c = b[at];
      if (c == quote) {
        if (at + 1 == limit && behind == Behind.MORE) {
          return -1;
        }
        if (at + 1 == limit || b[at + 1] != quote) {
          return at;
        }
        innerEscape = true;
        next(b, limit);
      } else if (c == lineEnd) {
        innerLines++;
      } else if (c == escape && escape >= 0) {
        innerEscape = true;
        innerLines += at + 1 < limit && b[at + 1] == lineEnd ? 1 : 0;
        seek(b, at + 2);
      }
    }
    return -1;
  }

  private int broken(RecordBatch out, byte[] b, int start, int limit, Behind behind, String how) {
    int end = find(lineEnd, b, openQuote, limit);
    if (end < 0 && behind == Behind.MORE) {
      return INCOMPLETE;
    }
    int field = out.openFields() + 1;
    int stop = end < 0 ? limit : end;
    String message =
        "the quote that opens field %d at byte %d of the record %s"
            .formatted(field, openQuote - start, how);
    RecordFault fault = new RecordFault(RejectCode.BROKEN_QUOTE, field, message);
    int lines = 0;
    for (int i = start; i < stop; i++) {
      if (b[i] == lineEnd) {
        lines++;
      }
    }
    out.finishFaulty(start, withoutCr(b, start, stop), line, fault);
    line += lines + 1L;
    return end < 0 ? limit : end + 1;
  }

  private void finish(RecordBatch out, int start, int end, int lines) {
    if (trailingDelimiter && out.openFields() > 1 && out.lastFieldBlank()) {
      out.dropLastField();
    }
    if (out.openFields() > fieldLimit) {
      String message = "the record has %,d fields, over the limit of %,d";
      RecordFault fault =
          new RecordFault(
              RejectCode.TOO_MANY_FIELDS, 0, message.formatted(out.openFields(), fieldLimit));
      out.finishFaulty(start, end, line, fault);
    } else {
      out.finishRecord(start, end, line);
    }
    line += lines + 1L;
  }

  /** The length of the line end at the position, 0 at the end of the bytes, or -1 for none. */
  private int lineEndAt(byte[] b, int at, int limit) {
    if (at >= limit) {
      return 0;
    }
    if (b[at] == lineEnd) {
      return 1;
    }
    if (b[at] == '\r' && lineEnd == '\n') {
      int end = passCrs(b, at, limit);
      return end == limit ? end - at : b[end] == '\n' ? end + 1 - at : -1;
    }
    return -1;
  }

  private int withoutCr(byte[] b, int from, int to) {
    return lineEnd == '\n' ? withoutCrs(b, from, to) : to;
  }

  /** Where a line ends whose LF is at {@code to}: CRs before it belong to the line end. */
  static int withoutCrs(byte[] b, int from, int to) {
    int end = to;
    while (end > from && b[end - 1] == '\r') {
      end--;
    }
    return end;
  }

  private static int passCrs(byte[] b, int from, int limit) {
    int i = from;
    while (i < limit && b[i] == '\r') {
      i++;
    }
    return i;
  }

  private static boolean blank(byte[] b, int from, int to) {
    return passBlanks(b, from, to) == to;
  }

  private static int passBlanks(byte[] b, int from, int to) {
    int i = from;
    while (i < to && (b[i] == ' ' || b[i] == '\t')) {
      i++;
    }
    return i;
  }

  private static boolean matches(byte[] text, byte[] b, int at, int limit) {
    if (limit - at < text.length) {
      return false;
    }
    for (int i = 0; i < text.length; i++) {
      if (b[at + i] != text[i]) {
        return false;
      }
    }
    return true;
  }

  static int find(byte wanted, byte[] b, int from, int limit) {
    for (int i = from; i < limit; i++) {
      if (b[i] == wanted) {
        return i;
      }
    }
    return -1;
  }
}
