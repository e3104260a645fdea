package dev.dusky.core.expect;

import java.math.BigDecimal;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The stated figures of a file.
 *
 * @param source who states it, such as "its trailer"
 * @param rows how many records it has
 * @param totals the sum of each of these columns over all its records
 */
public record ControlFigures(String source, Optional<Long> rows, Map<String, BigDecimal> totals) {

  public ControlFigures {
    totals = new TreeMap<>(totals);
  }
}
