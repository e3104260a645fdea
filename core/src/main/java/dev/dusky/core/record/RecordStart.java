package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import java.nio.charset.StandardCharsets;

/**
 * Where in the middle of a file a record seems to start. It is a guess, to be compared with where
 * the records before it really end.
 */
sealed interface RecordStart {

  /** Means no start. */
  int NONE = -1;

  /**
   * The first start at or behind {@code from}.
   *
   * @param bytes some of the file, with the byte before {@code from}
   * @param to where the part ends
   * @param place where in the file {@code from} is
   * @return an index below {@code to}, or {@link #NONE}
   */
  int find(byte[] bytes, int from, int to, long place);

  /** Behind each line end. */
  record BehindLine(byte lineEnd) implements RecordStart {
    @Override
    public int find(byte[] bytes, int from, int to, long place) {
      int end = DelimitedScanner.find(lineEnd, bytes, from - 1, to - 1);
      return end < 0 ? NONE : end + 1;
    }
  }

  /** Records of the same length in a row. */
  record EveryLength(long first, int length) implements RecordStart {
    @Override
    public int find(byte[] bytes, int from, int to, long place) {
      long past = (place - first) % length;
      long start = past == 0 ? from : from + length - past;
      return start < to ? (int) start : NONE;
    }
  }

  /**
   * Behind each line end that is not in quotes. Whether the part begins in quotes is reported by
   * the first quote that can only open or only close a field, as proposed by Ge, Li, Eilebrecht,
   * Chandramouli and Kossmann, "Speculative Distributed CSV Data Parsing for Big Data Analytics"
   * (SIGMOD 2019).
   */
  record BehindUnquotedLine(byte lineEnd, byte quote, int escape, byte opener, byte closer)
      implements RecordStart {

    static RecordStart of(DelimitedLayout layout, byte lineEnd) {
      byte[] delimiter = layout.delimiter().getBytes(StandardCharsets.UTF_8);
      int escape = layout.escape() == layout.quote() ? DelimitedLayout.NONE : layout.escape();
      return new BehindUnquotedLine(
          lineEnd, (byte) layout.quote(), escape, delimiter[delimiter.length - 1], delimiter[0]);
    }

    @Override
    public int find(byte[] bytes, int from, int to, long place) {
      int closing = firstClosing(bytes, from, to);
      if (closing < 0 && bytes[from - 1] == lineEnd) {
        return from;
      }
      boolean inside = false;
      for (int i = closing < 0 ? from : closing + 1; i < to - 1; i++) {
        byte b = bytes[i];
        if (b == quote) {
          inside = !inside;
        } else if (escape >= 0 && b == escape) {
          i++;
        } else if (b == lineEnd && !inside) {
          return i + 1;
        }
      }
      return NONE;
    }

    /** The first quote that is reported, if it closes a field; else -1. */
    private int firstClosing(byte[] bytes, int from, int to) {
      for (int i = from; i < to - 1; i++) {
        if (bytes[i] == quote && bytes[i - 1] != quote && bytes[i + 1] != quote) {
          boolean opens = bytes[i - 1] == opener || bytes[i - 1] == lineEnd;
          boolean closes =
              bytes[i + 1] == closer || bytes[i + 1] == lineEnd || bytes[i + 1] == '\r';
          if (opens != closes) {
            return closes ? i : -1;
          }
        }
      }
      return -1;
    }
  }
}
