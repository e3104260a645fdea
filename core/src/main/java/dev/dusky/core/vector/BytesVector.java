package dev.dusky.core.vector;

import dev.dusky.core.bytes.ByteWords;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Text and JSON in UTF-8, and binary data. */
public final class BytesVector extends ColumnVector {

  private byte[] heap = new byte[1 << 12];
  private int used;
  private int[] starts = new int[0];
  private int[] lengths = new int[0];

  @Override
  public void reset(int rows) {
    super.reset(rows);
    used = 0;
    if (starts.length < rows) {
      starts = new int[room()];
      lengths = new int[room()];
    }
  }

  /** Sets the value of a row. */
  public void set(int row, byte[] source, int start, int end) {
    int length = end - start;
    if (heap.length - used < length + 32) {
      heap = Arrays.copyOf(heap, Math.max(used + length + 32, heap.length * 2));
    }
    if (length <= 32 && source.length - start >= 32) {
      // Whole words, more than needed: cheaper than a call for so few bytes.
      for (int i = 0; i < length; i += 8) {
        ByteWords.put(heap, used + i, ByteWords.at(source, start + i));
      }
    } else {
      System.arraycopy(source, start, heap, used, length);
    }
    starts[row] = used;
    lengths[row] = length;
    used += length;
  }

  /** The bytes that {@link #start} refers to. */
  public byte[] heap() {
    return heap;
  }

  /** Where the row's bytes start. */
  public int start(int row) {
    return starts[row];
  }

  /** How many bytes the row has. */
  public int length(int row) {
    return lengths[row];
  }

  /** A copy of the row's bytes. */
  public byte[] bytes(int row) {
    return Arrays.copyOfRange(heap, starts[row], starts[row] + lengths[row]);
  }

  /** The row's bytes as text. */
  public String text(int row) {
    return new String(heap, starts[row], lengths[row], StandardCharsets.UTF_8);
  }

  /** How many bytes all rows have so far. */
  public int used() {
    return used;
  }

  /** The first eight bytes, zeros behind shorter values. */
  @Override
  long number(int row) {
    long word = 0;
    int most = Math.min(8, lengths[row]);
    for (int i = 0; i < most; i++) {
      word |= (heap[starts[row] + i] & 0xffL) << (56 - 8 * i);
    }
    return word ^ Long.MIN_VALUE;
  }

  @Override
  void copy(int row, ColumnVector from, int at) {
    BytesVector bytes = (BytesVector) from;
    set(row, bytes.heap, bytes.starts[at], bytes.starts[at] + bytes.lengths[at]);
  }

  @Override
  int order(int row, ColumnVector other, int at) {
    BytesVector bytes = (BytesVector) other;
    return Arrays.compareUnsigned(
        heap,
        starts[row],
        starts[row] + lengths[row],
        bytes.heap,
        bytes.starts[at],
        bytes.starts[at] + bytes.lengths[at]);
  }
}
