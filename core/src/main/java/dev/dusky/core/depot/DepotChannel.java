package dev.dusky.core.depot;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.NonWritableChannelException;
import java.nio.channels.SeekableByteChannel;

/**
 * A stored file, read at any position. Small reads fetch some bytes ahead; large ones fetch what
 * they ask for. If the file changes, reading fails.
 */
public final class DepotChannel implements SeekableByteChannel {

  /** Bytes that are fetched at least. */
  private static final int AHEAD = 1 << 18;

  private final Depot depot;
  private final StagedFile file;
  private byte[] fetched = new byte[0];
  private long fetchedAt;
  private long position;
  private boolean open = true;

  /** Reads that file, from its beginning. */
  public DepotChannel(Depot depot, StagedFile file) {
    this.depot = depot;
    this.file = file;
  }

  @Override
  public int read(ByteBuffer to) throws IOException {
    if (position >= file.size()) {
      return -1;
    }
    if (left() == 0) {
      fetched = depot.bytes(file, position, Math.max(AHEAD, to.remaining()));
      fetchedAt = position;
    }
    int taken = Math.min(to.remaining(), left());
    to.put(fetched, (int) (position - fetchedAt), taken);
    position += taken;
    return taken;
  }

  /** How many fetched bytes are at the position and behind it. */
  private int left() {
    long from = position - fetchedAt;
    return from < 0 || from >= fetched.length ? 0 : (int) (fetched.length - from);
  }

  @Override
  public long position() {
    return position;
  }

  @Override
  public DepotChannel position(long to) {
    position = to;
    return this;
  }

  @Override
  public long size() {
    return file.size();
  }

  @Override
  public int write(ByteBuffer from) {
    throw new NonWritableChannelException();
  }

  @Override
  public SeekableByteChannel truncate(long size) {
    throw new NonWritableChannelException();
  }

  @Override
  public boolean isOpen() {
    return open;
  }

  @Override
  public void close() {
    open = false;
    fetched = new byte[0];
  }
}
