package dev.dusky.core.source;

/**
 * Opens databases for sources. The implementation is found with {@link java.util.ServiceLoader}.
 */
public interface SourceDatabases {

  /**
   * Opens the database of a source and looks at the columns of its query.
   *
   * @throws dev.dusky.core.failure.Failure of kind DEPOT if that is impossible
   */
  SourceDatabase open(Source source);
}
