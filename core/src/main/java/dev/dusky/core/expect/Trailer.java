package dev.dusky.core.expect;

import java.util.Map;
import java.util.Optional;

/**
 * How a file's last record states its control totals.
 *
 * @param begins the text that it begins with, which no other record begins with
 * @param rows where the number of records is
 * @param totals where the sum of each column is
 */
public record Trailer(String begins, Optional<Part> rows, Map<String, Part> totals) {

  /** A part of the trailer. */
  public sealed interface Part {}

  /** The field with this position, from 1, between the layout's delimiters. */
  public record Field(int position) implements Part {}

  /** A number of characters from a position, counted from 1. */
  public record Characters(int start, int length) implements Part {}

  public Trailer {
    totals = Map.copyOf(totals);
  }
}
