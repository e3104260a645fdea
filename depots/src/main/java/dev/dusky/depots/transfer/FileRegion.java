package dev.dusky.depots.transfer;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;

/** A part of a local file as a stream. */
public final class FileRegion extends BulkStream {

  private final InputStream in;
  private long rest;

  public FileRegion(Path file, long start, long length) throws IOException {
    in = Files.newInputStream(file);
    in.skipNBytes(start);
    rest = length;
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    if (rest == 0) {
      return -1;
    }
    int read = in.read(buffer, offset, (int) Math.min(length, rest));
    if (read > 0) {
      rest -= read;
    }
    return read;
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
