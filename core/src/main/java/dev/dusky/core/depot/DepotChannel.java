package dev.dusky.core.depot;

import java.io.IOException;
import java.nio.ByteBuffer;

/**
 * A stored file, read at any position. Small reads fetch some bytes ahead; large ones fetch what
 * they ask for. If the file changes, reading fails.
 */
public final class DepotChannel extends ReadChannel {

  /** Bytes that are fetched at least. */
  private static final int AHEAD = 1 << 18;

  private final Depot depot;
  private final StagedFile file;
  private byte[] fetched = new byte[0];
  private long fetchedAt;

  /** Reads that file, from its beginning. */
  public DepotChannel(Depot depot, StagedFile file) {
    this.depot = depot;
    this.file = file;
  }

  @Override
  public int read(ByteBuffer to) throws IOException {
    if (at >= file.size()) {
      return -1;
    }
    if (left() == 0) {
      fetched = depot.bytes(file, at, Math.max(AHEAD, to.remaining()));
      fetchedAt = at;
    }
    int taken = Math.min(to.remaining(), left());
    to.put(fetched, (int) (at - fetchedAt), taken);
    at += taken;
    return taken;
  }

  /** How many fetched bytes are at the position and behind it. */
  private int left() {
    long from = at - fetchedAt;
    return from < 0 || from >= fetched.length ? 0 : (int) (fetched.length - from);
  }

  @Override
  public long size() {
    return file.size();
  }

  @Override
  public void close() {
    super.close();
    fetched = new byte[0];
  }
}
