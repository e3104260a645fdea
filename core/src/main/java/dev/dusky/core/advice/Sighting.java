package dev.dusky.core.advice;

import java.time.Instant;

/**
 * One problem as it was met.
 *
 * @param reject the reject's number, or 0 if it has none yet
 * @param path the file
 * @param recordNumber the record's number in it
 * @param line its physical line, or 0 if it has none
 * @param place how messages name its place where it has no line
 * @param loadId the load that found it, or 0
 * @param at when
 */
public record Sighting(
    long reject, String path, long recordNumber, long line, String place, long loadId, Instant at) {

  /** File and place, for people. */
  public String where() {
    return path + (place.isEmpty() ? ":" + line : ", " + place);
  }
}
