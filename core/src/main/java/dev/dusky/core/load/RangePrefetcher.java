package dev.dusky.core.load;

import dev.dusky.core.concurrent.Fetchers;
import dev.dusky.core.record.RangeBytes;
import java.io.IOException;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * The ranges of a file for those who ask for them in about their order. They are fetched ahead,
 * some at once, in blocks of several ranges since each request to a depot costs time.
 */
final class RangePrefetcher implements AutoCloseable {

  /** The number of ranges in a block. */
  private static final int TOGETHER = 4;

  /** The number of blocks fetched ahead. */
  private static final int AHEAD = 4;

  /** A block, and by how many more ranges it will be asked for. */
  private record Block(Future<byte[]> bytes, AtomicInteger asked) {}

  private final RangeBytes source;
  private final long size;
  private final int rangeBytes;
  private final int tail;
  private final long ranges;
  private final Fetchers fetchers = new Fetchers();
  private final Map<Long, Block> blocks = new ConcurrentHashMap<>();
  private long next;

  /**
   * The ranges of a file.
   *
   * @param tail the bytes after a range that are fetched with it; at most those of a range
   */
  RangePrefetcher(RangeBytes source, long size, int rangeBytes, int tail) {
    this.source = source;
    this.size = size;
    this.rangeBytes = rangeBytes;
    this.tail = tail;
    this.ranges = (size + rangeBytes - 1) / rangeBytes;
  }

  /** How many there are. */
  long count() {
    return ranges;
  }

  /**
   * The bytes of a range, the one before it if there is one, and some behind it. Each range is
   * asked for once, by any thread.
   */
  byte[] take(long range) throws IOException, InterruptedException {
    long from = Math.max(0, range * rangeBytes - 1);
    long to = Math.min(size, (range + 1) * rangeBytes + tail);
    fetchUntil(range / TOGETHER + AHEAD);
    byte[] bytes = new byte[(int) (to - from)];
    long blockBytes = (long) rangeBytes * TOGETHER;
    for (long block = from / blockBytes; block * blockBytes < to; block++) {
      byte[] fetched = Fetchers.take(blocks.get(block).bytes());
      long start = block * blockBytes;
      long first = Math.max(from, start);
      int count = (int) (Math.min(to, start + fetched.length) - first);
      System.arraycopy(fetched, (int) (first - start), bytes, (int) (first - from), count);
      if (blocks.get(block).asked().decrementAndGet() == 0) {
        blocks.remove(block);
      }
    }
    return bytes;
  }

  private synchronized void fetchUntil(long end) {
    int length = rangeBytes * TOGETHER;
    for (; next < end && next * length < size; next++) {
      long from = next * length;
      blocks.put(next, new Block(fetchers.fetch(() -> source.bytes(from, length)), askedFor(next)));
    }
  }

  /** The ranges of a block ask for it, and their neighbours on both sides. */
  private AtomicInteger askedFor(long block) {
    long first = Math.max(0, block * TOGETHER - (tail > 0 ? 1 : 0));
    long last = Math.min(ranges - 1, (block + 1) * TOGETHER);
    return new AtomicInteger((int) (last - first + 1));
  }

  @Override
  public void close() {
    fetchers.close();
  }
}
