package dev.dusky.core.repeat;

/** Row hashes in memory, each with the position of its row. Open addressing. Hot. */
public final class RowHashTable {

  private static final int SLOT_BYTES = 24;

  private long[] highs;
  private long[] lows;
  private long[] places;
  private int count;
  private final long mostBytes;

  /** A table that never takes more than about that many bytes. */
  public RowHashTable(long mostBytes, int expected) {
    this.mostBytes = mostBytes;
    int capacity = Integer.highestOneBit(Math.max(1024, expected + expected / 2)) << 1;
    allocate(capacity);
  }

  private void allocate(int capacity) {
    highs = new long[capacity];
    lows = new long[capacity];
    places = new long[capacity];
  }

  /** The slot of a hash: where it is, or where it belongs. */
  public int slot(long high, long low) {
    int mask = highs.length - 1;
    int slot = (int) low & mask;
    while (highs[slot] != 0 && (highs[slot] != high || lows[slot] != low)) {
      slot = slot + 1 & mask;
    }
    return slot;
  }

  /** Whether there is a hash in the slot. */
  public boolean taken(int slot) {
    return highs[slot] != 0;
  }

  /** The position of its row. */
  public long place(int slot) {
    return places[slot];
  }

  /** Assigns it to another row. */
  public void replace(int slot, long place) {
    places[slot] = place;
  }

  /** Puts a hash into its slot; false if there is no room for it in the memory allowed. */
  public boolean put(int slot, long high, long low, long place) {
    if (count >= highs.length - highs.length / 3) {
      if (highs.length >= 1 << 29 || 2L * highs.length * SLOT_BYTES > mostBytes) {
        return false;
      }
      grow();
      slot = slot(high, low);
    }
    highs[slot] = high;
    lows[slot] = low;
    places[slot] = place;
    count++;
    return true;
  }

  private void grow() {
    long[] oldHighs = highs;
    long[] oldLows = lows;
    long[] oldPlaces = places;
    allocate(oldHighs.length * 2);
    for (int i = 0; i < oldHighs.length; i++) {
      if (oldHighs[i] != 0) {
        int slot = slot(oldHighs[i], oldLows[i]);
        highs[slot] = oldHighs[i];
        lows[slot] = oldLows[i];
        places[slot] = oldPlaces[i];
      }
    }
  }

  /** Takes all hashes and their places. */
  public interface Taker {
    /** Takes one. */
    void take(long high, long low, long place);
  }

  /** Gives all hashes. */
  public void forEach(Taker taker) {
    for (int i = 0; i < highs.length; i++) {
      if (highs[i] != 0) {
        taker.take(highs[i], lows[i], places[i]);
      }
    }
  }
}
