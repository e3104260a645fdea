package dev.dusky.core.record;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import java.nio.charset.StandardCharsets;

/**
 * A cursor on one field's text after the layout's trimming and unescaping. Hot: it points into the
 * batch's own bytes unless the field has escapes.
 */
public final class FieldText {

  private final boolean trim;
  private final int quote;
  private final int escape;
  private final boolean json;
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
      json = false;
    } else {
      trim = false;
      quote = DelimitedLayout.NONE;
      escape = DelimitedLayout.NONE;
      json = layout instanceof JsonLayout;
    }
  }

  /** Whether a field without escapes is its bytes as they are. */
  public boolean isPlain() {
    return !trim;
  }

  /** Points at the field with this number in the batch. */
  public void locate(RecordBatch batch, int field) {
    bytes = batch.bytes();
    start = batch.fieldStart(field);
    end = batch.fieldEnd(field);
    if (batch.escaped(field)) {
      if (json) {
        unescapeJson();
      } else {
        unescape(batch.quoted(field));
      }
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

  private void unescapeJson() {
    if (scratch.length < end - start) {
      scratch = new byte[Math.max(end - start, scratch.length * 2)];
    }
    end = JsonStrings.unescape(bytes, start, end, scratch);
    bytes = scratch;
    start = 0;
  }

  /** The text as an object. */
  @Override
  public String toString() {
    return new String(bytes, start, end - start, StandardCharsets.UTF_8);
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
