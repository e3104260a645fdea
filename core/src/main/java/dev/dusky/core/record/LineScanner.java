package dev.dusky.core.record;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.reject.RejectCode;

/** Finds records that are lines, without looking into them. Blank lines are none. Hot. */
final class LineScanner implements RecordScanner {

  private static final int RAW_KEPT = 64 << 10;

  private final int recordLimit;
  private final byte lineEnd;
  private final long lineEndPattern;
  private long line;
  private boolean skipping;

  LineScanner(byte lineEnd, long firstLine, int recordLimit) {
    this.recordLimit = recordLimit;
    this.lineEnd = lineEnd;
    this.lineEndPattern = ByteWords.repeat(lineEnd);
    this.line = firstLine;
  }

  @Override
  public int scan(RecordBatch out, int from, int limit, Behind behind, int mostRecords) {
    byte[] b = out.bytes();
    int pos = from;
    if (skipping) {
      int end = find(b, pos, limit);
      if (end == limit) {
        return limit;
      }
      skipping = false;
      line++;
      pos = end + 1;
    }
    int most = out.records() + mostRecords;
    while (pos < limit && out.records() < most) {
      int end = find(b, pos, limit);
      if (end == limit && behind == Behind.MORE) {
        return pos;
      }
      int stop = lineEnd == '\n' ? DelimitedScanner.withoutCrs(b, pos, end) : end;
      if (stop - pos > recordLimit) {
        tooLarge(out, pos, stop);
      } else if (!blank(b, pos, stop)) {
        out.finishRecord(pos, stop, line);
      }
      line++;
      pos = Math.min(limit, end + 1);
    }
    return pos;
  }

  @Override
  public boolean skipping() {
    return skipping;
  }

  @Override
  public long line() {
    return line;
  }

  @Override
  public int giveUp(RecordBatch out, int start, int limit) {
    tooLarge(out, start, limit);
    skipping = true;
    return limit;
  }

  private void tooLarge(RecordBatch out, int start, int end) {
    String message = "the record has more than %,d bytes".formatted(recordLimit);
    RecordFault fault = new RecordFault(RejectCode.RECORD_TOO_LARGE, 0, message);
    out.finishFaulty(start, Math.min(end, start + RAW_KEPT), line, fault);
  }

  private static boolean blank(byte[] b, int from, int to) {
    int i = from;
    while (i < to && (b[i] == ' ' || b[i] == '\t')) {
      i++;
    }
    return i == to;
  }

  private int find(byte[] b, int from, int limit) {
    for (int i = from; i < limit; i += 8) {
      int hits = (int) ByteWords.hits(ByteWords.misses(ByteWords.at(b, i), lineEndPattern));
      if (hits != 0) {
        return Math.min(limit, i + Integer.numberOfTrailingZeros(hits));
      }
    }
    return limit;
  }
}
