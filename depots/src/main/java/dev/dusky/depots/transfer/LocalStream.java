package dev.dusky.depots.transfer;

import dev.dusky.core.bytes.BulkStream;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;

/** A local file that is staged; that it cannot be read is a failure of the file, not the depot. */
public final class LocalStream extends BulkStream {

  private final Path file;
  private final InputStream in;

  public LocalStream(Path file) {
    this.file = file;
    try {
      in = Files.newInputStream(file);
    } catch (IOException e) {
      throw unreadable(file, e);
    }
  }

  public static long size(Path file) {
    try {
      return Files.size(file);
    } catch (IOException e) {
      throw unreadable(file, e);
    }
  }

  /** The failure of a local file that cannot be read. */
  public static Failure unreadable(Path file, IOException e) {
    return Failure.file("Reading " + file + " to stage it failed")
        .because(String.valueOf(e.getMessage()))
        .hint("Check that it can be read and is not written at this moment, and stage it again")
        .from(e);
  }

  @Override
  public int read(byte[] buffer, int offset, int length) {
    try {
      return in.read(buffer, offset, length);
    } catch (IOException e) {
      throw unreadable(file, e);
    }
  }

  @Override
  public void close() throws IOException {
    in.close();
  }
}
