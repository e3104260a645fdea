package dev.dusky.core.ledger;

import java.time.LocalDate;
import java.util.Optional;

/**
 * Chooses entries of the journal; an empty part chooses all.
 *
 * @param name a feed or a merge
 * @param table a landing table or a target
 * @param day the day on which they started, in UTC
 * @param state how they ended
 * @param file the path of a file that they processed
 */
public record JournalChoice(
    Optional<String> name,
    Optional<String> table,
    Optional<LocalDate> day,
    Optional<String> state,
    Optional<String> file) {

  /** The entries of a feed or a merge. */
  public static JournalChoice of(String name) {
    return new JournalChoice(Optional.of(name), ALL.table, ALL.day, ALL.state, ALL.file);
  }

  /** All entries. */
  public static final JournalChoice ALL =
      new JournalChoice(
          Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
}
