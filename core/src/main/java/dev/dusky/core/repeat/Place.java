package dev.dusky.core.repeat;

/** Where a row came from, in one number: the file by its turn, and the record by its number. */
public final class Place {

  private static final int RECORD_BITS = 40;

  private Place() {}

  /** The place of a record, counted from 1, in a file, counted from 0. */
  public static long of(int file, long record) {
    return (long) file << RECORD_BITS | record;
  }

  /** The file's turn. */
  public static int file(long place) {
    return (int) (place >>> RECORD_BITS);
  }

  /** The record's number. */
  public static long record(long place) {
    return place & (1L << RECORD_BITS) - 1;
  }
}
