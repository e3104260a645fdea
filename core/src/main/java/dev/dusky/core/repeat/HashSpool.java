package dev.dusky.core.repeat;

import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;

/**
 * Hashes on disk, by partition: those with the same hash are in the same one, so that each can be
 * resolved alone, in memory.
 */
public final class HashSpool implements AutoCloseable {

  private static final int PARTITIONS = 256;
  private static final int BUFFER_BYTES = 1 << 13;

  private final int marks;
  private final DataOutputStream[] outs = new DataOutputStream[PARTITIONS];
  private final long[] counts = new long[PARTITIONS];
  private Path folder;

  /** A spool of hashes, each with a position and that many values that order it. */
  public HashSpool(int marks) {
    this.marks = marks;
  }

  /** Adds a hash. */
  public void add(long high, long low, long place, long[] mark) {
    int partition = (int) (high >>> 56);
    try {
      DataOutputStream out = outs[partition];
      if (out == null) {
        if (folder == null) {
          folder = TemporaryFolder.newFolder();
        }
        out =
            new DataOutputStream(
                new BufferedOutputStream(Files.newOutputStream(path(partition)), BUFFER_BYTES));
        outs[partition] = out;
      }
      out.writeLong(high);
      out.writeLong(low);
      out.writeLong(place);
      for (int i = 0; i < marks; i++) {
        out.writeLong(mark[i]);
      }
      counts[partition]++;
    } catch (IOException e) {
      throw TemporaryFolder.failure("Keeping hashes of rows", e);
    }
  }

  private Path path(int partition) {
    return folder.resolve("part-%03d".formatted(partition));
  }

  /** Receives each row that is left out, and the one kept instead. */
  public interface Resolved {
    /** One that is left out. */
    void leave(long place, long kept);
  }

  /** Receives each hash. */
  public interface Reader {
    /** One hash with its place and the values that order it, which the next call overwrites. */
    void read(long high, long low, long place, long[] mark);
  }

  /** Gives all hashes, those of a partition in the order in which they were added. */
  public void forEach(Reader reader) {
    for (int partition = 0; partition < PARTITIONS; partition++) {
      read(partition, reader);
    }
  }

  /**
   * Finds out which rows stay, partition by partition.
   *
   * @param known hashes of earlier rows, which stay in any case, or null
   * @param dead the files whose rows do not count
   * @return how many rows are left out
   */
  public long resolve(HashSpool known, RepeatPolicy.Keep keep, BitSet dead, Resolved resolved) {
    long left = 0;
    for (int partition = 0; partition < PARTITIONS; partition++) {
      if (counts[partition] > 0) {
        left += resolve(partition, known, keep, dead, resolved);
      }
    }
    return left;
  }

  private long resolve(
      int partition, HashSpool known, RepeatPolicy.Keep keep, BitSet dead, Resolved resolved) {
    long all = counts[partition] + (known == null ? 0 : known.counts[partition]);
    if (all > 1 << 28) {
      throw new IllegalStateException("too many rows for one partition: " + all);
    }
    RowHashTable table = new RowHashTable(new HashMemory(Long.MAX_VALUE), (int) all);
    if (known != null) {
      known.read(
          partition,
          (high, low, place, mark) -> {
            int slot = table.slot(high, low);
            if (!dead.get(Place.file(place)) && !table.taken(slot)) {
              table.put(slot, high, low, place);
            }
          });
    }
    Winners winners = new Winners((int) counts[partition], marks);
    read(
        partition,
        (high, low, place, mark) -> {
          int slot = table.slot(high, low);
          if (!table.taken(slot)) {
            table.put(slot, high, low, -1 - winners.open(place, mark));
          } else if (table.place(slot) >= 0) {
            winners.lose(place, table.place(slot));
          } else {
            winners.meet((int) (-1 - table.place(slot)), place, mark, keep);
          }
        });
    return winners.tell(resolved);
  }

  private void read(int partition, Reader reader) {
    if (outs[partition] == null) {
      return;
    }
    long[] mark = new long[marks];
    try {
      outs[partition].flush();
      try (DataInputStream in =
          new DataInputStream(
              new BufferedInputStream(Files.newInputStream(path(partition)), 1 << 16))) {
        for (long i = 0; i < counts[partition]; i++) {
          long high = in.readLong();
          long low = in.readLong();
          long place = in.readLong();
          for (int m = 0; m < marks; m++) {
            mark[m] = in.readLong();
          }
          reader.read(high, low, place, mark);
        }
      }
    } catch (EOFException e) {
      throw TemporaryFolder.failure("Reading back hashes of rows", e);
    } catch (IOException e) {
      throw TemporaryFolder.failure("Reading back hashes of rows", e);
    }
  }

  /** The rows of one partition: for each group the one that stays so far, and those that lost. */
  private static final class Winners {
    private final long[] place;
    private final long[] mark;
    private final int marks;
    private int groups;
    private long[] lost = new long[64];
    private long[] to = new long[64];
    private int losers;

    Winners(int most, int marks) {
      this.place = new long[most];
      this.mark = new long[most * marks];
      this.marks = marks;
    }

    int open(long at, long[] values) {
      place[groups] = at;
      System.arraycopy(values, 0, mark, groups * marks, marks);
      return groups++;
    }

    void meet(int group, long at, long[] values, RepeatPolicy.Keep keep) {
      boolean wins =
          switch (keep) {
            case FIRST -> false;
            case LAST -> true;
            case LATEST -> later(group, values);
          };
      if (wins) {
        lose(place[group], -1 - group);
        place[group] = at;
        System.arraycopy(values, 0, mark, group * marks, marks);
      } else {
        lose(at, -1 - group);
      }
    }

    private boolean later(int group, long[] values) {
      return Arrays.compare(values, 0, marks, mark, group * marks, group * marks + marks) > 0;
    }

    void lose(long at, long winner) {
      if (losers == lost.length) {
        lost = Arrays.copyOf(lost, losers * 2);
        to = Arrays.copyOf(to, losers * 2);
      }
      lost[losers] = at;
      to[losers++] = winner;
    }

    long tell(Resolved resolved) {
      for (int i = 0; i < losers; i++) {
        resolved.leave(lost[i], to[i] >= 0 ? to[i] : place[(int) (-1 - to[i])]);
      }
      return losers;
    }
  }

  @Override
  public void close() {
    if (folder == null) {
      return;
    }
    try {
      for (DataOutputStream out : outs) {
        if (out != null) {
          out.close();
        }
      }
      try (var files = Files.walk(folder)) {
        for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    } catch (IOException e) {
      throw TemporaryFolder.failure("Removing hashes of rows", e);
    }
  }
}
