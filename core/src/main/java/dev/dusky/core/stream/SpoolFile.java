package dev.dusky.core.stream;

import dev.dusky.core.bytes.ByteWords;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/**
 * The file that a stream is written to at the moment: whole records, and behind them perhaps the
 * beginning of one that is still to come.
 */
final class SpoolFile implements AutoCloseable {

  private static final long LINE_ENDS = ByteWords.repeat('\n');

  private final Path path;
  private final FileChannel channel;
  private long size;
  private long whole;
  private long records;
  private long firstNanos;

  private SpoolFile(Path path, FileChannel channel) {
    this.path = path;
    this.channel = channel;
  }

  static SpoolFile create(Path path) throws IOException {
    return new SpoolFile(
        path,
        FileChannel.open(
            path,
            StandardOpenOption.CREATE_NEW,
            StandardOpenOption.READ,
            StandardOpenOption.WRITE));
  }

  /** Opens what a killed process left; its records are counted. */
  static SpoolFile left(Path path) throws IOException {
    SpoolFile file =
        new SpoolFile(
            path, FileChannel.open(path, StandardOpenOption.READ, StandardOpenOption.WRITE));
    byte[] bytes = new byte[(256 << 10) + 8];
    ByteBuffer buffer = ByteBuffer.wrap(bytes, 0, 256 << 10);
    while (file.channel.read(buffer) >= 0) {
      file.note(bytes, 0, buffer.position());
      buffer.clear();
    }
    return file;
  }

  /** Adds bytes of the stream; at least eight more follow in the array. */
  void append(byte[] bytes, int from, int length) throws IOException {
    ByteBuffer buffer = ByteBuffer.wrap(bytes, from, length);
    while (buffer.hasRemaining()) {
      channel.write(buffer);
    }
    note(bytes, from, length);
  }

  private void note(byte[] bytes, int from, int length) {
    if (records == 0 && size == 0 && length > 0) {
      firstNanos = System.nanoTime();
    }
    int end = from + length;
    int last = -1;
    for (int i = from; i < end; i += 8) {
      long hits = ByteWords.hits(ByteWords.misses(ByteWords.at(bytes, i), LINE_ENDS));
      if (end - i < 8) {
        hits &= (1L << end - i) - 1;
      }
      if (hits != 0) {
        records += Long.bitCount(hits);
        last = i + 63 - Long.numberOfLeadingZeros(hits);
      }
    }
    if (last >= 0) {
      whole = size + (last + 1 - from);
    }
    size += length;
  }

  Path path() {
    return path;
  }

  /** How many bytes it has. */
  long size() {
    return size;
  }

  /** Takes back what a failed append has written behind that many bytes. */
  void takeBack(long before) throws IOException {
    channel.truncate(before);
  }

  /** How many whole records it has. */
  long records() {
    return records;
  }

  /** How many bytes they have. */
  long whole() {
    return whole;
  }

  /** How many bytes of a record that is not whole are behind them. */
  long rest() {
    return size - whole;
  }

  /** When the first byte came, in the time of {@link System#nanoTime}. */
  long firstNanos() {
    return firstNanos;
  }

  /** Makes what is behind the last line end a record too, for the stream has ended. */
  void endRecord() throws IOException {
    if (rest() > 0) {
      append(new byte[] {'\n', 0, 0, 0, 0, 0, 0, 0, 0}, 0, 1);
    }
  }

  /** Moves the record that is not whole to another file. */
  void moveRest(SpoolFile to) throws IOException {
    byte[] bytes = new byte[(256 << 10) + 8];
    long at = whole;
    while (at < size) {
      ByteBuffer buffer = ByteBuffer.wrap(bytes, 0, (int) Math.min(256 << 10, size - at));
      int read = channel.read(buffer, at);
      to.append(bytes, 0, read);
      at += read;
    }
    truncate();
  }

  /** Drops what is behind the whole records. */
  void truncate() throws IOException {
    channel.truncate(whole);
    size = whole;
  }

  /** Makes it durable. */
  void force() throws IOException {
    channel.force(false);
  }

  @Override
  public void close() throws IOException {
    channel.close();
  }
}
