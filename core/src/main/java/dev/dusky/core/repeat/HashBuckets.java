package dev.dusky.core.repeat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * Hashes of rows on their way between machines: those with the same hash are in the same bucket,
 * whichever machine has read them.
 */
public final class HashBuckets {

  private static final long[] NO_MARKS = new long[0];

  private final ByteArrayOutputStream[] bytes;
  private final DataOutputStream[] outs;

  /** That many buckets, all empty. */
  public HashBuckets(int count) {
    bytes = new ByteArrayOutputStream[count];
    outs = new DataOutputStream[count];
    for (int i = 0; i < count; i++) {
      bytes[i] = new ByteArrayOutputStream();
      outs[i] = new DataOutputStream(bytes[i]);
    }
  }

  /** Adds a hash with its place. */
  public void add(long high, long low, long place) {
    DataOutputStream out = outs[(int) Long.remainderUnsigned(low, outs.length)];
    try {
      out.writeLong(high);
      out.writeLong(low);
      out.writeLong(place);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Notes that the rows of a file could not all be read, so that nothing is known of them. */
  public void unread(int file) {
    add(0, 0, Place.of(file, 0));
  }

  /** Each bucket as bytes. */
  public byte[][] bytes() {
    byte[][] all = new byte[bytes.length][];
    for (int i = 0; i < all.length; i++) {
      all[i] = bytes[i].toByteArray();
    }
    return all;
  }

  /**
   * Finds out which rows of a bucket are left out: all but the first of equal ones.
   *
   * @param rows the bucket of each part, by the parts' numbers; parts come in the order of files
   * @return for each part the places of its rows that are left out, each with that of the row that
   *     is kept
   */
  public static SortedMap<Integer, byte[]> resolve(SortedMap<Integer, byte[]> rows) {
    Map<Integer, Integer> partOf = new HashMap<>();
    Map<Integer, ByteArrayOutputStream> left = new HashMap<>();
    try (HashSpool spool = new HashSpool(0)) {
      for (Map.Entry<Integer, byte[]> part : rows.entrySet()) {
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(part.getValue()));
        while (in.available() > 0) {
          long high = in.readLong();
          long low = in.readLong();
          long place = in.readLong();
          partOf.put(Place.file(place), part.getKey());
          if (Place.record(place) > 0) {
            spool.add(high, low, place, NO_MARKS);
          } else {
            write(left.computeIfAbsent(part.getKey(), p -> new ByteArrayOutputStream()), place, 0);
          }
        }
      }
      spool.resolve(
          null,
          RepeatPolicy.Keep.FIRST,
          new BitSet(),
          (place, kept) -> {
            int part = partOf.get(Place.file(place));
            write(left.computeIfAbsent(part, p -> new ByteArrayOutputStream()), place, kept);
          });
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    SortedMap<Integer, byte[]> all = new TreeMap<>();
    left.forEach((part, out) -> all.put(part, out.toByteArray()));
    return all;
  }

  private static void write(ByteArrayOutputStream to, long place, long kept) {
    DataOutputStream out = new DataOutputStream(to);
    try {
      out.writeLong(place);
      out.writeLong(kept);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Whether nothing is known of a file's rows among those that {@link #resolve} gives. */
  public static boolean isUnread(int file, Iterable<byte[]> left) {
    boolean[] found = {false};
    each(left, (place, kept) -> found[0] |= place == Place.of(file, 0));
    return found[0];
  }

  /** The verdicts on the rows of one file among those that {@link #resolve} gives for its part. */
  public static Verdicts verdicts(int file, Iterable<byte[]> left) {
    Verdicts verdicts = new Verdicts();
    each(
        left,
        (place, kept) -> {
          if (Place.file(place) == file && Place.record(place) > 0) {
            verdicts.leave(Place.record(place), kept);
          }
        });
    return verdicts;
  }

  private static void each(Iterable<byte[]> left, HashSpool.Resolved taker) {
    try {
      for (byte[] some : left) {
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(some));
        while (in.available() > 0) {
          taker.leave(in.readLong(), in.readLong());
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
