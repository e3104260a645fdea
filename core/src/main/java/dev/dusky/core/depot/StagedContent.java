package dev.dusky.core.depot;

import dev.dusky.core.bytes.RandomContent;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A staged file's stored bytes at any position. They come in blocks, of which the last few are
 * kept, so that little is fetched for a look at the beginning or the end.
 */
public final class StagedContent implements RandomContent {

  private static final int BLOCK = 128 << 10;
  private static final int KEPT = 24;

  private final Depot depot;
  private final StagedFile file;
  private final Map<Long, byte[]> blocks =
      new LinkedHashMap<>(KEPT, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, byte[]> eldest) {
          return size() > KEPT;
        }
      };

  /** The bytes of a file in a depot. */
  public StagedContent(Depot depot, StagedFile file) {
    this.depot = depot;
    this.file = file;
  }

  @Override
  public long size() {
    return file.size();
  }

  @Override
  public synchronized int read(long position, byte[] to, int offset, int length)
      throws IOException {
    if (position >= file.size() || length == 0) {
      return 0;
    }
    byte[] block = block(position / BLOCK);
    int from = (int) (position % BLOCK);
    int count = Math.min(length, block.length - from);
    if (count <= 0) {
      return 0;
    }
    System.arraycopy(block, from, to, offset, count);
    return count;
  }

  private byte[] block(long number) throws IOException {
    byte[] block = blocks.get(number);
    if (block == null) {
      long start = number * BLOCK;
      block = depot.bytes(file, start, (int) Math.min(BLOCK, file.size() - start));
      blocks.put(number, block);
    }
    return block;
  }

  @Override
  public void close() {}
}
