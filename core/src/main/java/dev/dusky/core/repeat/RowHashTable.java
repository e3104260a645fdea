package dev.dusky.core.repeat;

/**
 * Row hashes in memory, each with the position of its row. Open addressing; what belongs to a slot
 * lies together, so that a look-up reads one line of the cache. Hot.
 */
public final class RowHashTable implements AutoCloseable {

  private static final int WORDS = 3;
  private static final int SLOT_BYTES = WORDS * Long.BYTES;
  private static final int FEWEST_SLOTS = 128;
  private static final int MOST_SLOTS = 1 << 29;

  private final HashMemory memory;
  private long[] slots;
  private int mask;
  private int count;
  private long taken;

  /**
   * An empty table. It takes its first slots whether there is memory or not.
   *
   * @param memory what it may take to grow
   * @param expected the number of hashes that it holds without growing
   */
  public RowHashTable(HashMemory memory, int expected) {
    this.memory = memory;
    int capacity = FEWEST_SLOTS;
    while (capacity < MOST_SLOTS && capacity < expected + (long) expected / 2) {
      capacity <<= 1;
    }
    allocate(capacity);
  }

  private void allocate(int capacity) {
    slots = new long[Math.multiplyExact(capacity, WORDS)];
    mask = capacity - 1;
  }

  /** The slot of a hash: where it is, or where it belongs. */
  public int slot(long high, long low) {
    int slot = (int) low & mask;
    while (true) {
      long there = slots[slot * WORDS];
      if (there == 0 || there == high && slots[slot * WORDS + 1] == low) {
        return slot;
      }
      slot = slot + 1 & mask;
    }
  }

  /** Whether there is a hash in the slot. */
  public boolean taken(int slot) {
    return slots[slot * WORDS] != 0;
  }

  /** The position of its row. */
  public long place(int slot) {
    return slots[slot * WORDS + 2];
  }

  /** Assigns it to another row. */
  public void replace(int slot, long place) {
    slots[slot * WORDS + 2] = place;
  }

  /** Puts a hash into its slot; false if there is no room for it in the memory allowed. */
  public boolean put(int slot, long high, long low, long place) {
    if (count > mask - (mask + 1) / 3) {
      if (!grow()) {
        return false;
      }
      slot = slot(high, low);
    }
    set(slot, high, low, place);
    count++;
    return true;
  }

  private void set(int slot, long high, long low, long place) {
    int at = slot * WORDS;
    slots[at] = high;
    slots[at + 1] = low;
    slots[at + 2] = place;
  }

  private boolean grow() {
    int capacity = mask + 1;
    long more = (long) capacity * SLOT_BYTES;
    if (capacity >= MOST_SLOTS || !memory.take(more)) {
      return false;
    }
    taken += more;
    long[] old = slots;
    allocate(capacity * 2);
    for (int at = 0; at < old.length; at += WORDS) {
      if (old[at] != 0) {
        set(slot(old[at], old[at + 1]), old[at], old[at + 1], old[at + 2]);
      }
    }
    return true;
  }

  /** Takes all hashes and their places. */
  public interface Taker {
    /** Takes one. */
    void take(long high, long low, long place);
  }

  /** Gives all hashes. */
  public void forEach(Taker taker) {
    for (int at = 0; at < slots.length; at += WORDS) {
      if (slots[at] != 0) {
        taker.take(slots[at], slots[at + 1], slots[at + 2]);
      }
    }
  }

  /** Forgets the hashes and returns the memory. */
  @Override
  public void close() {
    memory.give(taken);
    taken = 0;
    count = 0;
    allocate(FEWEST_SLOTS);
  }
}
