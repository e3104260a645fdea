package dev.dusky.depots.sftp;

import dev.dusky.core.bytes.BulkStream;
import java.io.IOException;
import java.io.InputStream;
import org.apache.sshd.sftp.client.SftpClient;

/**
 * A file's bytes from a position on, over a separate channel; several requests are under way at a
 * time.
 */
final class SftpStream extends BulkStream {

  private final SftpClient client;
  private final InputStream in;
  private final long size;
  private long position;
  private Runnable atEnd = () -> {};

  /** Opens the file; the client is closed with the stream. */
  SftpStream(SftpClient client, String path, long from, long size) throws IOException {
    this.client = client;
    this.size = size;
    this.position = from;
    try {
      this.in = client.read(path);
      in.skipNBytes(from);
    } catch (IOException e) {
      client.close();
      throw e;
    }
  }

  /** Has something checked when the last byte has been read. */
  SftpStream then(Runnable check) {
    atEnd = check;
    return this;
  }

  @Override
  public int read(byte[] buffer, int offset, int length) throws IOException {
    int read = in.read(buffer, offset, length);
    position += Math.max(0, read);
    if (read > 0 && position == size) {
      atEnd.run();
    }
    return read;
  }

  /** Closes it without reading the rest. */
  void abandon() {
    try {
      close();
    } catch (IOException e) {
      // The connection is given up in any case.
    }
  }

  @Override
  public void close() throws IOException {
    try (client) {
      in.close();
    }
  }
}
