package dev.dusky.core.repeat;

import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.HashMap;
import java.util.Map;

/** Which records of a file are left out, kept on disk by runs of a million records. */
public final class Verdicts implements AutoCloseable {

  private static final int BITS = 20;

  private final Map<Long, DataOutputStream> outs = new HashMap<>();
  private Path folder;
  private long bucket = -1;
  private long[] kept = new long[0];

  /** Notes that a record gives way to a row at that place. */
  public void leave(long record, long place) {
    try {
      long number = record >>> BITS;
      DataOutputStream out = outs.get(number);
      if (out == null) {
        if (folder == null) {
          folder = TemporaryFolder.newFolder();
        }
        out =
            new DataOutputStream(
                new BufferedOutputStream(Files.newOutputStream(folder.resolve("" + number))));
        outs.put(number, out);
      }
      out.writeInt((int) (record & (1 << BITS) - 1));
      out.writeLong(place);
    } catch (IOException e) {
      throw TemporaryFolder.failure("Keeping which rows repeat", e);
    }
  }

  /** The place of the row that is kept in a record's stead; 0 if it stays itself. */
  public long of(long record) {
    long number = record >>> BITS;
    if (number != bucket) {
      load(number);
    }
    return kept.length == 0 ? 0 : kept[(int) (record & (1 << BITS) - 1)];
  }

  private void load(long number) {
    bucket = number;
    DataOutputStream out = outs.get(number);
    if (out == null) {
      kept = new long[0];
      return;
    }
    kept = new long[1 << BITS];
    try {
      out.flush();
      Path file = folder.resolve("" + number);
      try (DataInputStream in =
          new DataInputStream(new BufferedInputStream(Files.newInputStream(file)))) {
        for (long left = Files.size(file) / 12; left > 0; left--) {
          int at = in.readInt();
          kept[at] = in.readLong();
        }
      }
    } catch (IOException e) {
      throw TemporaryFolder.failure("Reading back which rows repeat", e);
    }
  }

  @Override
  public void close() {
    if (folder == null) {
      return;
    }
    try {
      for (DataOutputStream out : outs.values()) {
        out.close();
      }
      try (var files = Files.walk(folder)) {
        for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    } catch (IOException e) {
      throw TemporaryFolder.failure("Removing which rows repeat", e);
    }
  }
}
