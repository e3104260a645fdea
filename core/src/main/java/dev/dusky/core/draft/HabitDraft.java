package dev.dusky.core.draft;

import dev.dusky.core.expect.Timetable;
import java.util.List;
import java.util.Optional;

/**
 * What the files of a feed suggest about those that will come.
 *
 * @param arrivals when files come, if they come regularly
 * @param steady whether their sizes are alike, so that another size is unusual
 * @param evidence why
 */
public record HabitDraft(Optional<Timetable> arrivals, boolean steady, List<Evidence> evidence) {

  /** Nothing. */
  public static final HabitDraft NONE = new HabitDraft(Optional.empty(), false, List.of());
}
