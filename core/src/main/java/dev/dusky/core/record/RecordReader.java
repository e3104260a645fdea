package dev.dusky.core.record;

import java.io.IOException;
import java.util.List;
import java.util.Optional;

/** Reads a file's records batch by batch. Not safe for use by several threads. */
public interface RecordReader extends AutoCloseable {

  /** The column names that the file itself gives, in file order; empty if it gives none. */
  List<String> names();

  /** Names of other tables in the file, which this reader does not read, such as sheets. */
  default List<String> beside() {
    return List.of();
  }

  /**
   * Fills the batch with the next records.
   *
   * @return false when there are no more; the batch is empty then
   */
  boolean read(RecordBatch batch) throws IOException;

  /**
   * Whether the batches hold typed columns, one for each field asked for, and not fields of text.
   */
  default boolean typed() {
    return false;
  }

  /** A new splitter of its records into fields, for use on another thread. */
  default FieldSplitter splitter() {
    return batch -> batch;
  }

  /**
   * The bytes needed before a raw record to read it alone: a byte order mark, the header with its
   * line end, an XML declaration; of a workbook the column names as a JSON array. No bytes if
   * nothing is needed.
   */
  default byte[] preamble() {
    return new byte[0];
  }

  /** Readers for parts of the file, so that several threads can read it at once; if it can be. */
  default Optional<TextRanges> ranges() {
    return Optional.empty();
  }

  @Override
  void close() throws IOException;
}
