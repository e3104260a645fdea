package dev.dusky.core.advice;

import dev.dusky.core.reject.RejectCode;
import java.util.HashSet;
import java.util.Set;

/** All problems of one feed with the same column and code. */
public final class ProblemGroup {

  private final String feed;
  private final String column;
  private final RejectCode code;
  private final ValueFacts values = new ValueFacts();
  private final Set<String> paths = new HashSet<>();
  private String message = "";
  private Sighting first;
  private Sighting last;
  private long count;

  ProblemGroup(String feed, String column, RejectCode code) {
    this.feed = feed;
    this.column = column;
    this.code = code;
  }

  void add(Sighting sighting, String value, String text) {
    if (count++ == 0) {
      first = sighting;
      message = text;
    }
    last = sighting;
    paths.add(sighting.path());
    values.add(value);
  }

  /** The feed. */
  public String feed() {
    return feed;
  }

  /** The column, or several for a key, or an empty text for the record as a whole. */
  public String column() {
    return column;
  }

  /** The code. */
  public RejectCode code() {
    return code;
  }

  /** How many problems. */
  public long count() {
    return count;
  }

  /** The files that have any. */
  public Set<String> paths() {
    return Set.copyOf(paths);
  }

  /** The message of the first. */
  public String message() {
    return message;
  }

  /** Where the first is. */
  public Sighting first() {
    return first;
  }

  /** Where the last is. */
  public Sighting last() {
    return last;
  }

  /** The offending values. */
  public ValueFacts values() {
    return values;
  }
}
