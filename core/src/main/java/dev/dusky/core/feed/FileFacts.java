package dev.dusky.core.feed;

import dev.dusky.core.depot.StagedFile;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The facts about a file besides its records: the captures of its path, and its metadata.
 *
 * @param values the facts by name, as texts that every column type can read
 */
public record FileFacts(Map<String, String> values) {

  /** The fact that is the record's own number, different for each row. */
  public static final String RECORD_NUMBER = "record.number";

  /** The names of the facts that every file has. */
  public static final List<String> NAMES =
      List.of(
          "file.path",
          "file.name",
          "file.size",
          "file.modified",
          RECORD_NUMBER,
          "load.id",
          "load.time");

  /** The facts of a file in a load. */
  public static FileFacts of(FilePattern files, StagedFile file, long loadId, Instant loadTime) {
    Map<String, String> values = new TreeMap<>(files.captures(file.path()));
    values.put("file.path", file.path());
    values.put("file.name", file.path().substring(file.path().lastIndexOf('/') + 1));
    values.put("file.size", Long.toString(file.size()));
    values.put("file.modified", moment(file.modified()));
    values.put("load.id", Long.toString(loadId));
    values.put("load.time", moment(loadTime));
    return new FileFacts(values);
  }

  private static String moment(Instant instant) {
    return instant.truncatedTo(java.time.temporal.ChronoUnit.MICROS).toString();
  }

  /** The fact's text, if the file has it. */
  public Optional<String> get(String fact) {
    return Optional.ofNullable(values.get(fact));
  }
}
