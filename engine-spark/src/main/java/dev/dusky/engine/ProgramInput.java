package dev.dusky.engine;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import org.apache.iceberg.io.SeekableInputStream;

/** Reads a file of a store, which the program has opened. */
final class ProgramInput extends SeekableInputStream {

  private final Program program;
  private final SeekableByteChannel channel;

  ProgramInput(Program program, SeekableByteChannel channel) {
    this.program = program;
    this.channel = channel;
  }

  @Override
  public long getPos() throws IOException {
    return channel.position();
  }

  @Override
  public void seek(long to) throws IOException {
    channel.position(to);
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] to, int start, int length) throws IOException {
    return program.within(() -> channel.read(ByteBuffer.wrap(to, start, length)));
  }

  @Override
  public void close() throws IOException {
    channel.close();
  }
}
