package dev.dusky.core.source;

import dev.dusky.core.secret.Secret;
import dev.dusky.core.stream.StreamName;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;

/**
 * A query on an operational database whose rows are staged as files.
 *
 * @param name the source
 * @param at where its database is and how it is reached
 * @param query the query; what is read is its rows
 * @param newer how rows that were staged before are left out
 * @param slices how the rows are read in parallel
 * @param as the template of the files' paths in the depot
 * @param manifest the template of the manifests' paths
 * @param roll at how many bytes a file ends
 */
public record Source(
    String name,
    Address at,
    String query,
    Optional<Newer> newer,
    Optional<Slices> slices,
    StreamName as,
    StreamName manifest,
    long roll) {

  /**
   * A database.
   *
   * @param url the JDBC URL, without user and password
   * @param user the user
   * @param password the password
   * @param driver a jar with the JDBC driver, unless the program has it
   */
  public record Address(
      String url, Optional<String> user, Optional<Secret> password, Optional<Path> driver) {

    /** The address without secrets. */
    @Override
    public String toString() {
      return url;
    }
  }

  /**
   * Only rows whose value is not below the high water are read, less an overlap.
   *
   * @param column the column of the query; a time or a number
   * @param overlap for a time, how far behind the high water rows are read again
   * @param back the same for a number
   */
  public record Newer(String column, Duration overlap, long back) {}

  /**
   * Ranges of a key that are read in parallel.
   *
   * @param by the column of the query; a whole number
   * @param number how many ranges there are, 2 to 64
   */
  public record Slices(String by, int number) {}
}
