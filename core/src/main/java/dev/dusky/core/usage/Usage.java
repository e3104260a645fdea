package dev.dusky.core.usage;

import java.util.EnumMap;
import java.util.Map;

/**
 * What was used.
 *
 * @param wallMillis how long it took
 * @param processorMillis processor time of this process's threads
 * @param databaseMillis time spent waiting for the database, summed over threads
 * @param bytesIn bytes received from object stores
 * @param bytesOut bytes sent to them
 * @param requests requests to them, retries included; a kind that was not used is zero
 */
public record Usage(
    long wallMillis,
    long processorMillis,
    long databaseMillis,
    long bytesIn,
    long bytesOut,
    Map<Request, Long> requests) {

  /** Nothing was used. */
  public static final Usage NONE = new Usage(0, 0, 0, 0, 0, Map.of());

  public Usage {
    Map<Request, Long> all = new EnumMap<>(Request.class);
    for (Request kind : Request.values()) {
      all.put(kind, requests.getOrDefault(kind, 0L));
    }
    requests = Map.copyOf(all);
  }

  /** Both together. */
  public Usage plus(Usage other) {
    Map<Request, Long> all = new EnumMap<>(requests);
    other.requests.forEach((kind, count) -> all.merge(kind, count, Long::sum));
    return new Usage(
        wallMillis + other.wallMillis,
        processorMillis + other.processorMillis,
        databaseMillis + other.databaseMillis,
        bytesIn + other.bytesIn,
        bytesOut + other.bytesOut,
        all);
  }
}
