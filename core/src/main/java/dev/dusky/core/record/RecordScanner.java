package dev.dusky.core.record;

/** Finds the records in a run of bytes. */
interface RecordScanner {

  /** What follows the bytes at hand. */
  enum Behind {
    /** More bytes may come. */
    MORE,
    /** The file ends here. */
    END
  }

  /**
   * Adds the whole records of {@code [from, limit)} to the batch.
   *
   * @return the position up to which all is dealt with; an unfinished record starts there
   */
  int scan(RecordBatch out, int from, int limit, Behind behind, int mostRecords);

  /**
   * Gives up on the unfinished record that starts at {@code start} and fills the record limit.
   *
   * @return the position up to which all is dealt with
   */
  int giveUp(RecordBatch out, int start, int limit);

  /** Whether it is passing over the rest of a record that it gave up on. */
  boolean skipping();

  /** The physical line that comes next. */
  long line();

  /**
   * What it carries from earlier records onto later ones. It is put at the beginning of the batch
   * that comes next, and fields may point there.
   */
  default byte[] carried() {
    return new byte[0];
  }
}
