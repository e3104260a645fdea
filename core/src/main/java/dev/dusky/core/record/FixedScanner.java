package dev.dusky.core.record;

import dev.dusky.core.bytes.ByteWords;
import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.RecordKinds;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;

/**
 * Finds records and fields of fixed places. Places count characters; in records of ASCII alone,
 * which are most, a character is a byte. Hot.
 */
final class FixedScanner implements RecordScanner {

  private static final int RAW_KEPT = 64 << 10;

  private final FixedLayout layout;
  private final int[] starts;
  private final int[] ends;
  private final boolean[] right;
  private final byte[] pads;
  private final long[] padWords;
  private final int fields;
  private final int width;
  private final byte lineEnd;
  private final long lineEndPattern;
  private final boolean fill;
  private final Kinds kinds;
  private int[] charAt = new int[0];
  private long line;
  private boolean skipping;
  private boolean ascii;

  FixedScanner(FixedLayout layout, byte lineEnd, long firstLine) {
    this.layout = layout;
    this.lineEnd = lineEnd;
    this.lineEndPattern = ByteWords.repeat(lineEnd);
    this.line = firstLine;
    this.fields = layout.fields().size();
    this.starts = new int[fields];
    this.ends = new int[fields];
    this.right = new boolean[fields];
    this.pads = new byte[fields];
    this.padWords = new long[fields];
    int most = 0;
    for (int i = 0; i < fields; i++) {
      FixedField field = layout.fields().get(i);
      starts[i] = field.start() - 1;
      ends[i] = starts[i] + field.length();
      right[i] = field.align() == FixedField.Alignment.RIGHT;
      pads[i] = (byte) field.pad();
      padWords[i] = ByteWords.repeat(pads[i]);
      most = field.kind().isEmpty() ? Math.max(most, ends[i]) : most;
    }
    this.width = most;
    this.fill = layout.shortRecords() == ShortRecords.FILL;
    this.kinds = layout.kinds().map(k -> new Kinds(k, layout.fields())).orElse(null);
  }

  @Override
  public int scan(RecordBatch out, int from, int limit, Behind behind, int mostRecords) {
    byte[] b = out.bytes();
    int pos = from;
    if (skipping) {
      int end = findLineEnd(b, pos, limit);
      if (end == limit) {
        return limit;
      }
      skipping = false;
      line++;
      pos = end + 1;
    }
    int most = out.records() + mostRecords;
    while (pos < limit && out.records() < most) {
      int end = recordEnd(b, pos, limit, behind);
      if (end == limit && behind == Behind.MORE) {
        return pos;
      }
      int stop = Math.min(end, limit);
      if (layout.recordLength() > 0) {
        record(out, b, pos, stop);
        pos = stop;
        while (pos < limit && b[pos] == '\r') {
          pos++;
        }
        pos += pos < limit && b[pos] == '\n' ? 1 : 0;
        line++;
        continue;
      }
      stop = lineEnd == '\n' ? DelimitedScanner.withoutCrs(b, pos, stop) : stop;
      if (stop > pos && b[pos] != 0x1a) {
        record(out, b, pos, stop);
      }
      line++;
      pos = Math.min(limit, end + 1);
    }
    return pos;
  }

  /**
   * Where the record ends, its line end not counted; the limit if that is not in sight. Notes
   * whether all of it is ASCII.
   */
  private int recordEnd(byte[] b, int pos, int limit, Behind behind) {
    if (layout.recordLength() == 0) {
      return findLineEnd(b, pos, limit);
    }
    int characters = 0;
    int i = pos;
    ascii = true;
    while (i < limit && characters < layout.recordLength()) {
      ascii &= b[i] >= 0;
      i++;
      while (i < limit && (b[i] & 0xc0) == 0x80) {
        i++;
      }
      characters++;
    }
    // A line end may follow and must be in sight, so that it is not taken for the next record.
    boolean inSight = behind == Behind.END || i + 3 <= limit;
    return characters == layout.recordLength() && inSight ? i : limit;
  }

  private int findLineEnd(byte[] b, int from, int limit) {
    long seen = 0;
    for (int i = from; i < limit; i += 8) {
      long word = ByteWords.at(b, i);
      int before = ByteWords.firstHit(ByteWords.misses(word, lineEndPattern));
      if (before < 8) {
        ascii = !ByteWords.anyHigh(seen | word & ~(-1L << 8 * before));
        return Math.min(limit, i + before);
      }
      seen |= word;
    }
    ascii = !ByteWords.anyHigh(seen); // what follows the limit can only make it slower
    return limit;
  }

  private void record(RecordBatch out, byte[] b, int start, int end) {
    if (end - start > layout.recordLimit()) {
      tooLarge(out, start, end);
      return;
    }
    int length = ascii ? end - start : measure(b, start, end);
    if (kinds != null && !kinds.rows(text(b, start, length, kinds.start, kinds.end))) {
      kinds.other(this, out, b, start, end, length);
      return;
    }
    if (length < width && !fill) {
      RecordFault fault =
          new RecordFault(
              RejectCode.TOO_FEW_FIELDS,
              0,
              "the record has %d characters, its fields need %d".formatted(length, width));
      out.finishFaulty(start, end, line, fault);
      return;
    }
    for (int f = 0; f < fields; f++) {
      if (kinds != null && kinds.carriedField(f)) {
        out.addField(kinds.at[f], kinds.at[f] + kinds.carried[f].length, false, false);
        continue;
      }
      int from = starts[f] >= length ? end : ascii ? start + starts[f] : charAt[starts[f]];
      int to = ends[f] >= length ? end : ascii ? start + ends[f] : charAt[ends[f]];
      if (right[f]) {
        int last = pads[f] == '0' ? to - 1 : to; // a number of zeroes keeps one
        from = passPads(b, from, last, padWords[f]);
      } else {
        to = dropPads(b, from, to, padWords[f]);
      }
      out.addField(from, to, false, false);
    }
    out.finishRecord(start, end, line);
  }

  /** Where the first byte other than the pad is, or {@code to}. */
  private static int passPads(byte[] b, int from, int to, long pad) {
    int i = from;
    int same = 8;
    while (i < to && same == 8) {
      same = ByteWords.sameAhead(ByteWords.at(b, i), pad);
      i += same;
    }
    return i < to ? i : Math.max(from, to);
  }

  /** Behind the last byte other than the pad, or {@code from}. */
  private static int dropPads(byte[] b, int from, int to, long pad) {
    int i = to;
    int same = 8;
    while (i > from && i >= 8 && same == 8) {
      same = ByteWords.sameBehind(ByteWords.at(b, i - 8), pad);
      i -= same;
    }
    while (i > from && i < 8 && b[i - 1] == (byte) pad) {
      i--;
    }
    return Math.max(i, from);
  }

  /** Notes where each character starts; gives their number. */
  private int measure(byte[] b, int from, int to) {
    if (charAt.length < to - from + 1) {
      charAt = new int[to - from + 64];
    }
    int characters = 0;
    for (int i = from; i < to; i++) {
      if ((b[i] & 0xc0) != 0x80) {
        charAt[characters++] = i;
      }
    }
    charAt[characters] = to;
    return characters;
  }

  /** The text between two characters, blanks around it removed. */
  private String text(byte[] b, int start, int length, int from, int to) {
    if (from >= length) {
      return "";
    }
    int last = Math.min(to, length);
    int first = ascii ? start + from : charAt[from];
    int stop = ascii ? start + last : charAt[last];
    return new String(b, first, stop - first, StandardCharsets.UTF_8).strip();
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
    String message = "the record has more than %,d bytes".formatted(layout.recordLimit());
    RecordFault fault = new RecordFault(RejectCode.RECORD_TOO_LARGE, 0, message);
    out.finishFaulty(start, Math.min(end, start + RAW_KEPT), line, fault);
  }

  @Override
  public byte[] carried() {
    return kinds == null ? new byte[0] : kinds.all();
  }

  /** Several kinds of record in one file, and what is carried from one onto the others. */
  private static final class Kinds {
    private final RecordKinds declared;
    private final List<FixedField> all;
    private final int start;
    private final int end;
    private final byte[][] carried;
    private final int[] at;

    Kinds(RecordKinds declared, List<FixedField> all) {
      this.declared = declared;
      this.all = all;
      this.start = declared.start() - 1;
      this.end = start + declared.length();
      this.carried = new byte[all.size()][0];
      this.at = new int[all.size()];
    }

    boolean rows(String kind) {
      return declared.rows().contains(kind);
    }

    boolean carriedField(int field) {
      return !all.get(field).kind().isEmpty();
    }

    void other(FixedScanner scanner, RecordBatch out, byte[] b, int from, int to, int length) {
      String kind = scanner.text(b, from, length, start, end);
      boolean known = declared.skip().contains(kind);
      for (int f = 0; f < all.size(); f++) {
        FixedField field = all.get(f);
        if (field.kind().equals(kind)) {
          known = true;
          String text = scanner.text(b, from, length, scanner.starts[f], scanner.ends[f]);
          carried[f] = text.getBytes(StandardCharsets.UTF_8);
          at[f] = from + indexOf(b, from, to, carried[f], scanner.ascii ? scanner.starts[f] : 0);
        }
      }
      if (!known) {
        String message = "the record is of kind '%s', which the layout does not name";
        out.finishFaulty(
            from,
            to,
            scanner.line,
            new RecordFault(RejectCode.UNKNOWN_KIND, 0, message.formatted(kind)));
      }
    }

    private static int indexOf(byte[] b, int from, int to, byte[] text, int first) {
      for (int i = from + first; i + text.length <= to; i++) {
        if (Arrays.equals(b, i, i + text.length, text, 0, text.length)) {
          return i - from;
        }
      }
      return 0;
    }

    /** All that is carried, in a row, with the places noted that it will have there. */
    byte[] all() {
      ByteArrayOutputStream row = new ByteArrayOutputStream();
      for (int f = 0; f < carried.length; f++) {
        at[f] = row.size();
        row.writeBytes(carried[f]);
      }
      return row.toByteArray();
    }
  }
}
