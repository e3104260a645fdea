package dev.dusky.core.source;

import java.util.List;
import java.util.Optional;

/** The database of a source. All methods fail with a failure of kind DEPOT. */
public interface SourceDatabase extends AutoCloseable {

  /** The columns of the query. */
  List<SourceColumn> columns();

  /**
   * The least and the greatest key of the rows, for slices; empty if there are none.
   *
   * @param from only rows whose value of {@code newer} is at least this, as {@link HighWater}
   *     writes it
   */
  Optional<long[]> keys(Optional<String> from);

  /**
   * Opens the rows of a range, on a separate connection.
   *
   * @param from only rows whose value of {@code newer} is at least this
   */
  SourceReader read(Optional<String> from, KeyRange range);

  @Override
  void close();
}
