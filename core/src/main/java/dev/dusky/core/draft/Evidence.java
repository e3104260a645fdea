package dev.dusky.core.draft;

import java.util.List;
import java.util.stream.Collectors;

/**
 * Why a draft says what it says.
 *
 * @param about what was decided, such as {@code delimiter}
 * @param decision the decision
 * @param because the observation behind it
 * @param doubtful whether a person should look at it
 */
public record Evidence(String about, String decision, String because, boolean doubtful) {

  private static final int SHOWN = 5;

  /** The first of many things, and how many more there are. */
  static String some(List<String> all) {
    String first = all.stream().limit(SHOWN).collect(Collectors.joining(", "));
    return all.size() <= SHOWN ? first : first + " and %,d more".formatted(all.size() - SHOWN);
  }
}
