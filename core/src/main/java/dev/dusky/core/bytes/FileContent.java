package dev.dusky.core.bytes;

import com.dynatrace.hash4j.hashing.HashStream128;
import com.dynatrace.hash4j.hashing.HashValue128;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.util.HexFormat;

/**
 * A stored file's uncompressed bytes, counted, bounded and fingerprinted on the way. Read it to its
 * end to get the whole fingerprint. Failures of the storage pass through as they are; a file whose
 * compression is damaged or exceeds the decompression limits gives a {@link Failure} of kind FILE.
 */
public final class FileContent extends BulkStream {

  private static final int BUFFER = 16 << 10;

  private final String path;
  private final CountingStream stored;
  private InputStream content;
  private final Compression compression;
  private final ContentLimits limits;
  private final HashStream128 hash = Hashing.xxh3_128().hashStream();
  private volatile long contentBytes;
  private volatile boolean passed;

  /**
   * Opens the content of one file.
   *
   * @param path how messages name the file
   * @param storedBytes the bytes as they are stored
   */
  public FileContent(String path, InputStream storedBytes, ContentLimits limits)
      throws IOException {
    this.path = path;
    this.limits = limits;
    this.stored = new CountingStream(storedBytes);
    BufferedInputStream buffered = new BufferedInputStream(stored, BUFFER);
    buffered.mark(Compression.LOOK);
    byte[] head = buffered.readNBytes(Compression.LOOK);
    buffered.reset();
    this.compression = Compression.recognise(head);
    try {
      this.content = compression.open(buffered);
    } catch (IOException | RuntimeException | OutOfMemoryError e) {
      throw damaged(e);
    }
  }

  /** Decompresses on its own thread from now on. */
  public void readAhead() {
    if (compression != Compression.PLAIN) {
      content = new PrefetchStream(content);
    }
  }

  /**
   * Accounts for bytes that another reader reads, from ranges of an uncompressed file, and gives
   * none any more itself. Called range by range in the order of the file.
   *
   * @param length how many of them
   * @param position their position in the file; what was given before may be among them
   */
  public void pass(byte[] bytes, int length, long position) {
    passed = true;
    int known = (int) Math.min(length, Math.max(0, contentBytes - position));
    hash.putBytes(bytes, known, length - known);
    count(length - known);
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    if (passed) {
      return -1;
    }
    int read;
    try {
      read = content.read(buffer, offset, length);
    } catch (IOException | RuntimeException | OutOfMemoryError e) {
      throw damaged(e);
    }
    if (read > 0) {
      hash.putBytes(buffer, offset, read);
      count(read);
    }
    return read;
  }

  @SuppressWarnings("NonAtomicOperationOnVolatileField")
  private void count(int bytes) {
    contentBytes += bytes;
    if (compression != Compression.PLAIN
        && contentBytes > limits.freeBytes()
        && contentBytes > stored.count() * limits.ratio()) {
      throw Failure.file(path + " exceeds the decompression ratio limit")
          .because(
              "%,d stored bytes gave more than %,d bytes; the limit is %d to 1"
                  .formatted(stored.count(), contentBytes, limits.ratio()))
          .hint("If the file is sound, raise limits: ratio in the configuration");
    }
  }

  /** Turns an error of the decompressor into one about the file; storage errors pass. */
  private IOException damaged(Throwable e) {
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof Failure failure) {
        throw failure;
      }
      if (cause instanceof StorageException || cause instanceof InterruptedIOException) {
        return (IOException) cause;
      }
    }
    if (compression == Compression.PLAIN) {
      if (e instanceof RuntimeException unchecked) {
        throw unchecked;
      }
      if (e instanceof Error error) {
        throw error;
      }
      return (IOException) e;
    }
    String why =
        e instanceof EOFException
            ? "the %s data ends too early, after %,d stored bytes (%,d uncompressed)"
                .formatted(compression.label(), stored.count(), contentBytes)
            : "the %s data is damaged near stored byte %,d: %s"
                .formatted(compression.label(), stored.count(), LibraryWords.of(e));
    throw Failure.file(path + " is cut or damaged")
        .because(why)
        .hint("Nothing of it was loaded. Stage the file again, then load again")
        .from(e);
  }

  /** The compression recognised. */
  public Compression compression() {
    return compression;
  }

  /** Bytes taken from storage so far; may be called from another thread. */
  public long storedBytes() {
    return passed ? contentBytes : stored.count();
  }

  /** Uncompressed bytes given so far; may be called from another thread. */
  public long contentBytes() {
    return contentBytes;
  }

  /**
   * The fingerprint of the content: XXH3 with 128 bits of all uncompressed bytes, in hexadecimal,
   * and how many they are. It finds equal content; it is not a proof against forgery. Call it once
   * the end was reached.
   */
  public String fingerprint() {
    HashValue128 value = hash.get();
    HexFormat hex = HexFormat.of();
    return hex.toHexDigits(value.getMostSignificantBits())
        + hex.toHexDigits(value.getLeastSignificantBits())
        + "-"
        + contentBytes;
  }

  @Override
  public void close() throws IOException {
    try (stored) {
      content.close();
    }
  }
}
