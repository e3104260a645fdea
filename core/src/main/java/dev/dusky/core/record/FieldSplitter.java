package dev.dusky.core.record;

/**
 * The second half of a reader's work, which several threads can share: splits the records of a
 * batch into fields. Not safe for use by several threads itself.
 */
@FunctionalInterface
public interface FieldSplitter {

  /** A batch with the same records, or the rows they hold, split into fields. */
  RecordBatch split(RecordBatch records);
}
