package dev.dusky.core.repeat;

import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * The rows of a file that were left out, as runs: consecutive records that repeat consecutive
 * records of one file are one run. Those beyond a few thousand wait in a temporary file.
 */
public final class RepeatRuns implements AutoCloseable {

  /** Takes runs: that many records from a first one, repeats of those from a kept one on. */
  public interface Taker {
    /** One run. */
    void take(long first, long count, int keptFile, long keptRecord);
  }

  private Path file;
  private DataOutputStream out;
  private long written;
  private long first;
  private long count;
  private long kept;

  /** Adds a record, in the order of the file. */
  public void add(long record, long place) {
    if (count > 0 && record == first + count && place == kept + count) {
      count++;
      return;
    }
    flush();
    first = record;
    kept = place;
    count = 1;
  }

  /** The same runs for use after this has been closed; none are left here. */
  public RepeatRuns taken() {
    RepeatRuns other = new RepeatRuns();
    other.file = file;
    other.out = out;
    other.written = written;
    other.first = first;
    other.count = count;
    other.kept = kept;
    file = null;
    out = null;
    written = 0;
    count = 0;
    return other;
  }

  private void flush() {
    if (count == 0) {
      return;
    }
    try {
      if (out == null) {
        file = TemporaryFolder.newFile(".repeats");
        out = new DataOutputStream(new BufferedOutputStream(Files.newOutputStream(file)));
      }
      out.writeLong(first);
      out.writeLong(count);
      out.writeLong(kept);
      written++;
      count = 0;
    } catch (IOException e) {
      throw TemporaryFolder.failure("Keeping repeats", e);
    }
  }

  /** Gives all runs in order. */
  public void forEach(Taker taker) {
    flush();
    if (out == null) {
      return;
    }
    try {
      out.flush();
      try (DataInputStream in =
          new DataInputStream(new BufferedInputStream(Files.newInputStream(file)))) {
        for (long i = 0; i < written; i++) {
          long start = in.readLong();
          long records = in.readLong();
          long place = in.readLong();
          taker.take(start, records, Place.file(place), Place.record(place));
        }
      }
    } catch (IOException e) {
      throw TemporaryFolder.failure("Reading back repeats", e);
    }
  }

  @Override
  public void close() {
    if (out == null) {
      return;
    }
    try {
      out.close();
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw TemporaryFolder.failure("Removing kept repeats", e);
    }
  }
}
