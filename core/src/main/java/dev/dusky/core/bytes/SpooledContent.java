package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
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

  /** Reads all of the content into a temporary file. */
  public static SpooledContent of(InputStream content) throws IOException {
    Path file = Files.createTempFile("dusky-content-", ".tmp");
    try {
      Files.copy(content, file, StandardCopyOption.REPLACE_EXISTING);
      return new SpooledContent(file);
    } catch (IOException | RuntimeException e) {
      Files.deleteIfExists(file);
      throw e;
    }
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
