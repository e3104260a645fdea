package dev.dusky.warehouses.postgres;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.Arrays;

/** A growing buffer of bytes in network order. Hot. */
final class CopyBuffer {

  private static final VarHandle SHORTS =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle INTS =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle LONGS =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);

  private byte[] bytes;
  private int length;

  CopyBuffer(int capacity) {
    bytes = new byte[capacity];
  }

  byte[] bytes() {
    return bytes;
  }

  int length() {
    return length;
  }

  void clear() {
    length = 0;
  }

  /** Drops what was put behind that length. */
  void cut(int newLength) {
    length = newLength;
  }

  private void room(int more) {
    if (bytes.length - length < more) {
      bytes = Arrays.copyOf(bytes, Math.max(bytes.length * 2, length + more));
    }
  }

  void putByte(int value) {
    room(1);
    bytes[length++] = (byte) value;
  }

  void putShort(int value) {
    room(2);
    SHORTS.set(bytes, length, (short) value);
    length += 2;
  }

  void putInt(int value) {
    room(4);
    INTS.set(bytes, length, value);
    length += 4;
  }

  void putLong(long value) {
    room(8);
    LONGS.set(bytes, length, value);
    length += 8;
  }

  /** A field of eight bytes with its length before it. */
  void putLongField(long value) {
    room(12);
    INTS.set(bytes, length, 8);
    LONGS.set(bytes, length + 4, value);
    length += 12;
  }

  /**
   * A field of a numeric of at most four groups of digits.
   *
   * @param head number of groups, weight of the first, sign and scale, 16 bits each
   * @param groups the groups, 16 bits each, the last one in the lowest bits
   */
  void putNumeric(long head, long groups, int count) {
    room(20);
    INTS.set(bytes, length, 8 + count * 2);
    LONGS.set(bytes, length + 4, head);
    if (count > 0) {
      LONGS.set(bytes, length + 12, groups << 64 - count * 16);
    }
    length += 12 + count * 2;
  }

  /** A field of bytes with its length before it. */
  void putField(byte[] source, int start, int count) {
    room(count + 4);
    INTS.set(bytes, length, count);
    System.arraycopy(source, start, bytes, length + 4, count);
    length += count + 4;
  }
}
