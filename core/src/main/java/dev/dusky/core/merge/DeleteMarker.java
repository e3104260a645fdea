package dev.dusky.core.merge;

import java.util.List;
import java.util.Optional;

/**
 * Which landed rows say that their key is gone, and what is done then.
 *
 * @param column a column of the source
 * @param values its values that mean deleted
 * @param then what is done
 * @param into the target's column to mark or end with; empty where a history ends
 */
public record DeleteMarker(
    String column, List<String> values, GoneKeys then, Optional<String> into) {
  public DeleteMarker {
    values = List.copyOf(values);
  }
}
