package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/** Content brought into a temporary file, which goes when this is closed. */
public final class SpooledContent implements RandomContent {

  private final Path file;
  private final FileChannel channel;
  private final long size;

  private SpooledContent(Path file) throws IOException {
    this.file = file;
    this.channel = FileChannel.open(file, StandardOpenOption.READ);
    this.size = channel.size();
  }

  /**
   * Reads all of the content into a temporary file.
   *
   * @throws StorageException if the temporary folder cannot take it
   */
  public static SpooledContent of(InputStream content) throws IOException {
    Path file;
    try {
      file = TemporaryFolder.newFile(".content");
    } catch (IOException e) {
      throw full(e);
    }
    try {
      copy(content, file);
      return new SpooledContent(file);
    } catch (IOException | RuntimeException e) {
      Files.deleteIfExists(file);
      throw e;
    }
  }

  private static void copy(InputStream content, Path file) throws IOException {
    byte[] buffer = new byte[256 << 10];
    try (FileChannel out = FileChannel.open(file, StandardOpenOption.WRITE)) {
      for (int n = content.read(buffer); n >= 0; n = content.read(buffer)) {
        ByteBuffer bytes = ByteBuffer.wrap(buffer, 0, n);
        while (bytes.hasRemaining()) {
          write(out, bytes);
        }
      }
    }
  }

  private static void write(FileChannel out, ByteBuffer bytes) throws IOException {
    try {
      out.write(bytes);
    } catch (java.nio.channels.ClosedByInterruptException e) {
      throw e;
    } catch (IOException e) {
      throw full(e);
    }
  }

  private static StorageException full(IOException e) {
    return new StorageException(
        "the temporary folder %s cannot hold its content (%s); free space there, or name another"
                .formatted(TemporaryFolder.place(), e.getMessage())
            + " one with JAVA_TOOL_OPTIONS=-Djava.io.tmpdir=FOLDER",
        e);
  }

  /** The temporary file. */
  public Path file() {
    return file;
  }

  @Override
  public long size() {
    return size;
  }

  @Override
  public int read(long position, byte[] to, int offset, int length) throws IOException {
    return Math.max(0, channel.read(ByteBuffer.wrap(to, offset, length), position));
  }

  @Override
  public void close() throws IOException {
    channel.close();
    Files.deleteIfExists(file);
  }
}
