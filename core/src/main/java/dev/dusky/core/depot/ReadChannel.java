package dev.dusky.core.depot;

import java.nio.ByteBuffer;
import java.nio.channels.NonWritableChannelException;
import java.nio.channels.SeekableByteChannel;

/** A channel that is only read, at any position. */
abstract class ReadChannel implements SeekableByteChannel {

  /** Where the next byte is read. */
  long at;

  private boolean open = true;

  @Override
  public final long position() {
    return at;
  }

  @Override
  public final SeekableByteChannel position(long to) {
    at = to;
    return this;
  }

  @Override
  public final int write(ByteBuffer from) {
    throw new NonWritableChannelException();
  }

  @Override
  public final SeekableByteChannel truncate(long size) {
    throw new NonWritableChannelException();
  }

  @Override
  public final boolean isOpen() {
    return open;
  }

  @Override
  public void close() {
    open = false;
  }
}
