package dev.dusky.core.record;

/** Finds the records in a run of bytes. */
interface RecordScanner {

  /** The content after the current bytes. */
  enum Behind {
    /** More bytes may come. */
    MORE,
    /** The file ends here. */
    END
  }

  /**
   * Adds the whole records of {@code [from, limit)} to the batch.
   *
   * @return the position up to which all is processed; an unfinished record starts there
   */
  int scan(RecordBatch out, int from, int limit, Behind behind, int mostRecords);

  /**
   * Gives up on the unfinished record that starts at {@code start} and fills the record limit.
   *
   * @return the position up to which all is processed
   */
  int giveUp(RecordBatch out, int start, int limit);

  /** Whether it is skipping the rest of a record that it gave up on. */
  boolean skipping();

  /** The physical line that comes next. */
  long line();

  /**
   * The values carried from earlier records onto later ones. They are put at the beginning of the
   * batch that comes next, and fields may point there.
   */
  default byte[] carried() {
    return new byte[0];
  }
}
