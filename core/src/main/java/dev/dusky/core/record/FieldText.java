package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Layout;

/**
 * A cursor on one field's text after the layout's trimming and unescaping. Hot: it points into the
 * batch's own bytes unless the field has escapes.
 */
public final class FieldText {

  private final boolean trim;
  private final int quote;
  private final int escape;
  private byte[] scratch = new byte[256];
  private byte[] bytes;
  private int start;
  private int end;

  /** A cursor for fields of that layout. */
  public FieldText(Layout layout) {
    if (layout instanceof DelimitedLayout delimited) {
      trim = delimited.trim();
      quote = delimited.quote();
      escape = delimited.escape() == quote ? DelimitedLayout.NONE : delimited.escape();
    } else {
      throw new IllegalArgumentException("no field text in layout " + layout);
    }
  }

  /** Whether a field without escapes is its bytes as they stand. */
  public boolean isPlain() {
    return !trim;
  }

  /** Points at the field with this number in the batch. */
  public void locate(RecordBatch batch, int field) {
    bytes = batch.bytes();
    start = batch.fieldStart(field);
    end = batch.fieldEnd(field);
    if (batch.escaped(field)) {
      unescape(batch.quoted(field));
    }
    if (trim) {
      while (start < end && (bytes[start] == ' ' || bytes[start] == '\t')) {
        start++;
      }
      while (start < end && (bytes[end - 1] == ' ' || bytes[end - 1] == '\t')) {
        end--;
      }
    }
  }

  private void unescape(boolean quoted) {
    if (scratch.length < end - start) {
      scratch = new byte[Math.max(end - start, scratch.length * 2)];
    }
    int length = 0;
    for (int i = start; i < end; i++) {
      byte c = bytes[i];
      boolean pair = c == escape && escape >= 0 || quoted && c == quote;
      if (pair && i + 1 < end) {
        i++;
        c = bytes[i];
      }
      scratch[length++] = c;
    }
    bytes = scratch;
    start = 0;
    end = length;
  }

  /** The bytes that {@link #start} and {@link #end} refer to. */
  public byte[] bytes() {
    return bytes;
  }

  /** Where the text starts. */
  public int start() {
    return start;
  }

  /** Where the text ends, exclusive. */
  public int end() {
    return end;
  }
}
