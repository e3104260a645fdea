package dev.dusky.core.tidy;

import dev.dusky.core.ledger.LoadStart;
import java.time.Duration;

/**
 * What to tidy.
 *
 * @param older how old a file must be that no table needs, and a former state of a table
 * @param rehearsed whether nothing is changed
 * @param start the entry in the journal, for each table that is changed
 */
public record TidyOrder(Duration older, boolean rehearsed, LoadStart start) {

  /** The usual age. */
  public static final Duration OLD = Duration.ofDays(3);

  /** The least age that a person may ask for: a running load's files are younger. */
  public static final Duration LEAST = Duration.ofHours(1);
}
