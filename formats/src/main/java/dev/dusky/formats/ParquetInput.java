package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import java.io.IOException;
import java.io.InputStream;
import org.apache.parquet.io.DelegatingSeekableInputStream;
import org.apache.parquet.io.InputFile;
import org.apache.parquet.io.SeekableInputStream;

/** Lets the Parquet library read our content. */
final class ParquetInput implements InputFile {

  private final RandomContent content;

  ParquetInput(RandomContent content) {
    this.content = content;
  }

  @Override
  public long getLength() {
    return content.size();
  }

  @Override
  public SeekableInputStream newStream() {
    PositionedStream stream = new PositionedStream(content);
    return new DelegatingSeekableInputStream(stream) {
      @Override
      public long getPos() {
        return stream.position;
      }

      @Override
      public void seek(long position) {
        stream.position = position;
      }
    };
  }

  /** A stream over content with a position that can be set. */
  static final class PositionedStream extends InputStream {
    private final RandomContent content;
    private long position;

    PositionedStream(RandomContent content) {
      this.content = content;
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      if (length == 0) {
        return 0;
      }
      int read = content.read(position, to, offset, length);
      position += read;
      return read == 0 ? -1 : read;
    }
  }
}
