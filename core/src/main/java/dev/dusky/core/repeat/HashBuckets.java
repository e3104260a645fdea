package dev.dusky.core.repeat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.LongToIntFunction;

/**
 * Hashes of rows on their way between machines: those with the same hash are in the same bucket,
 * whichever machine has read them. A bucket is a sequence of three numbers each: the halves of a
 * hash and the record's number, or 0, the ledger's number of the file that the records behind it
 * are of, and whether it was read.
 */
public final class HashBuckets {

  private static final long[] NO_MARKS = new long[0];

  /** The first number of an entry that begins a file; no hash has it. */
  private static final long FILE = 0;

  private static final long READ = 0;
  private static final long UNREAD = 1;

  private final ByteArrayOutputStream[] bytes;
  private final DataOutputStream[] outs;
  private final long[] begun;
  private long file = Long.MIN_VALUE;

  /** That many buckets, all empty. */
  public HashBuckets(int count) {
    bytes = new ByteArrayOutputStream[count];
    outs = new DataOutputStream[count];
    begun = new long[count];
    Arrays.fill(begun, Long.MIN_VALUE);
    for (int i = 0; i < count; i++) {
      bytes[i] = new ByteArrayOutputStream();
      outs[i] = new DataOutputStream(bytes[i]);
    }
  }

  /** The rows that follow are those of a file, by its number in the ledger. */
  public void begin(long fileId) {
    file = fileId;
  }

  /** Adds the hash of a record of the file. */
  public void add(long high, long low, long record) {
    int bucket = (int) Long.remainderUnsigned(low, outs.length);
    if (begun[bucket] != file) {
      begun[bucket] = file;
      write(outs[bucket], FILE, file, READ);
    }
    write(outs[bucket], high, low, record);
  }

  /** Notes that the rows of a file could not all be read, so that nothing is known of them. */
  public void unread(long fileId) {
    begun[0] = Long.MIN_VALUE;
    write(outs[0], FILE, fileId, UNREAD);
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
   * @param rows the bucket of each part, by the parts' numbers; parts come in the order of files.
   *     Those below 0 have rows that are posted already
   * @return for each part, but for those below 0, the rows that are left out, each with the row
   *     that is kept
   */
  public static SortedMap<Integer, byte[]> resolve(SortedMap<Integer, byte[]> rows) {
    List<Long> files = new ArrayList<>();
    List<Integer> parts = new ArrayList<>();
    Map<Integer, ByteArrayOutputStream> left = new HashMap<>();
    try (HashSpool spool = new HashSpool(0)) {
      for (Map.Entry<Integer, byte[]> part : rows.entrySet()) {
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(part.getValue()));
        while (in.available() > 0) {
          long high = in.readLong();
          long low = in.readLong();
          long record = in.readLong();
          if (high != FILE) {
            spool.add(high, low, Place.of(files.size() - 1, record), NO_MARKS);
          } else if (record == UNREAD) {
            write(out(left, part.getKey()), low, 0, 0, 0);
          } else {
            files.add(low);
            parts.add(part.getKey());
          }
        }
      }
      spool.resolve(
          null,
          RepeatPolicy.Keep.FIRST,
          new BitSet(),
          (place, kept) -> {
            int part = parts.get(Place.file(place));
            if (part >= 0) {
              write(
                  out(left, part),
                  files.get(Place.file(place)),
                  Place.record(place),
                  files.get(Place.file(kept)),
                  Place.record(kept));
            }
          });
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    SortedMap<Integer, byte[]> all = new TreeMap<>();
    left.forEach((part, out) -> all.put(part, out.toByteArray()));
    return all;
  }

  private static DataOutputStream out(Map<Integer, ByteArrayOutputStream> all, int part) {
    return new DataOutputStream(all.computeIfAbsent(part, p -> new ByteArrayOutputStream()));
  }

  private static void write(DataOutputStream out, long... numbers) {
    try {
      for (long number : numbers) {
        out.writeLong(number);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Whether nothing is known of a file's rows among those that {@link #resolve} gives. */
  public static boolean isUnread(long fileId, Iterable<byte[]> left) {
    boolean[] found = {false};
    each(left, (file, record, keptFile, kept) -> found[0] |= file == fileId && record == 0);
    return found[0];
  }

  /**
   * The verdicts on the rows of one file among those that {@link #resolve} gives for its part.
   *
   * @param turns gives the turn of a file by its number in the ledger
   */
  public static Verdicts verdicts(long fileId, Iterable<byte[]> left, LongToIntFunction turns) {
    Verdicts verdicts = new Verdicts();
    each(
        left,
        (file, record, keptFile, kept) -> {
          if (file == fileId && record > 0) {
            verdicts.leave(record, Place.of(turns.applyAsInt(keptFile), kept));
          }
        });
    return verdicts;
  }

  /** Takes rows that are left out, each with the row that is kept. */
  private interface Left {
    void take(long file, long record, long keptFile, long keptRecord);
  }

  private static void each(Iterable<byte[]> left, Left taker) {
    try {
      for (byte[] some : left) {
        DataInputStream in = new DataInputStream(new ByteArrayInputStream(some));
        while (in.available() > 0) {
          taker.take(in.readLong(), in.readLong(), in.readLong(), in.readLong());
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
