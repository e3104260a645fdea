package dev.dusky.lake.write;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.SortField;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Rows that are kept until there are enough of them to be sorted: column by column, with their
 * provenance. Equal rows stay as they came.
 */
final class SortedRows {

  /** What the rows of one lane may take in memory. */
  static final long MOST_BYTES = Math.min(256L << 20, Runtime.getRuntime().maxMemory() / 24);

  /** Rows are kept in blocks of this many, as a power of two. */
  private static final int BLOCK_BITS = 12;

  private static final int BLOCK = 1 << BLOCK_BITS;

  /** Some rows, column by column. */
  private static final class Block {
    private final List<ColumnVector> columns;
    private final long[] loads = new long[BLOCK];
    private final long[] files = new long[BLOCK];
    private final long[] numbers = new long[BLOCK];

    Block(Feed feed) {
      columns = feed.columns().stream().map(c -> ColumnVector.of(c.type())).toList();
    }

    void reset() {
      columns.forEach(column -> column.reset(BLOCK));
    }

    long bytes() {
      long bytes = 0;
      for (ColumnVector column : columns) {
        bytes += column instanceof BytesVector texts ? texts.used() : 0;
      }
      return bytes;
    }
  }

  private final Feed feed;
  private final int[] keys;
  private final boolean[] descending;
  private final boolean[] ranked;
  private final List<Block> blocks = new ArrayList<>();
  private final long most;
  private final long perBlock;
  private long full;
  private int count;

  /**
   * Room for rows of a feed.
   *
   * @param by columns of the feed
   * @param most what the rows may take in memory
   */
  SortedRows(Feed feed, List<SortField> by, long most) {
    this.feed = feed;
    this.keys = new int[by.size()];
    this.descending = new boolean[by.size()];
    this.ranked = new boolean[by.size()];
    for (int i = 0; i < keys.length; i++) {
      keys[i] = feed.columns().indexOf(feed.column(by.get(i).column()).orElseThrow());
      descending[i] = by.get(i).descending();
      ranked[i] = ColumnVector.of(feed.columns().get(keys[i]).type()).ranked();
    }
    this.most = most;
    // With the places and ranks to be sorted.
    this.perBlock = BLOCK * (40L + 20L * feed.columns().size() + 8L * by.size());
  }

  /** Whether there are columns to sort by, and the feed fills all of them. */
  static boolean possible(Feed feed, List<SortField> by) {
    return by.size() > 0 && by.stream().allMatch(field -> feed.column(field.column()).isPresent());
  }

  /** Takes a row. */
  void add(RowAt at) {
    int place = count & (BLOCK - 1);
    if (place == 0) {
      open();
    }
    Block block = blocks.get(count >> BLOCK_BITS);
    for (int i = 0; i < block.columns.size(); i++) {
      block.columns.get(i).take(place, at.columns.get(i), at.row);
    }
    block.loads[place] = at.load;
    block.files[place] = at.file;
    block.numbers[place] = at.number();
    count++;
  }

  private void open() {
    int next = count >> BLOCK_BITS;
    if (next == blocks.size()) {
      blocks.add(new Block(feed));
    }
    blocks.get(next).reset();
    full += perBlock + (next > 0 ? blocks.get(next - 1).bytes() : 0);
  }

  /** Whether there are no rows. */
  boolean isEmpty() {
    return count == 0;
  }

  /** Whether the rows are to be written before another is taken. */
  boolean isFull() {
    return (count & (BLOCK - 1)) == 0 && full > most;
  }

  /** The places of the rows in the order in which they are to be written. */
  int[] order() {
    long[][] ranks = new long[keys.length][count];
    for (int place = 0; place < count; place++) {
      Block block = blocks.get(place >> BLOCK_BITS);
      for (int i = 0; i < keys.length; i++) {
        long rank = block.columns.get(keys[i]).rank(place & (BLOCK - 1));
        ranks[i][place] = descending[i] ? ~rank : rank;
      }
    }
    Integer[] places = new Integer[count];
    Arrays.setAll(places, i -> i);
    Arrays.sort(places, (one, other) -> compare(ranks, one, other)); // a stable sort
    int[] order = new int[count];
    Arrays.setAll(order, i -> places[i]);
    return order;
  }

  private int compare(long[][] ranks, int one, int other) {
    for (int i = 0; i < keys.length; i++) {
      long rank = ranks[i][one];
      if (rank != ranks[i][other]) {
        return rank < ranks[i][other] ? -1 : 1;
      }
      int order =
          ranked[i] && rank != Long.MIN_VALUE && rank != Long.MAX_VALUE ? 0 : exact(i, one, other);
      if (order != 0) {
        return descending[i] ? -order : order;
      }
    }
    return 0;
  }

  private int exact(int key, int one, int other) {
    Block a = blocks.get(one >> BLOCK_BITS);
    Block b = blocks.get(other >> BLOCK_BITS);
    return a.columns
        .get(keys[key])
        .compare(one & (BLOCK - 1), b.columns.get(keys[key]), other & (BLOCK - 1));
  }

  /** Goes to the row of a place. */
  void go(RowAt at, int place) {
    Block block = blocks.get(place >> BLOCK_BITS);
    int row = place & (BLOCK - 1);
    at.in(block.columns, row, block.numbers[row]);
    at.load = block.loads[row];
    at.file = block.files[row];
  }

  /** Forgets the rows; their room is used again. */
  void clear() {
    count = 0;
    full = 0;
  }
}
