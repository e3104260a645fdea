package dev.dusky.core.bind;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.Layout;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** The texts that mean null. Hot. */
final class NullMarks {

  private final byte[][] marks;
  private final boolean empty;
  private final boolean missing;
  private final boolean inQuotes;
  private final int longest;

  NullMarks(Layout layout) {
    marks =
        layout.nulls().stream()
            .filter(text -> !text.isEmpty())
            .map(text -> text.getBytes(StandardCharsets.UTF_8))
            .toArray(byte[][]::new);
    empty = layout.nulls().contains("");
    missing = empty || !(layout instanceof DelimitedLayout) && !(layout instanceof FixedLayout);
    inQuotes = layout.nullsInQuotes();
    longest = Arrays.stream(marks).mapToInt(mark -> mark.length).max().orElse(0);
  }

  int longest() {
    return longest;
  }

  boolean isNull(byte[] b, int start, int end, boolean quoted) {
    int length = end - start;
    if (length > longest || quoted && !inQuotes) {
      return false;
    }
    if (length == 0) {
      return quoted ? empty : missing;
    }
    for (byte[] mark : marks) {
      if (Arrays.equals(mark, 0, mark.length, b, start, end)) {
        return true;
      }
    }
    return false;
  }
}
