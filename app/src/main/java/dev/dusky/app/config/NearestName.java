package dev.dusky.app.config;

import java.util.Collection;
import java.util.Optional;

/** Finds the name that a misspelt one probably means. */
final class NearestName {

  private NearestName() {}

  /** The nearest of the known names, if it is near enough. */
  public static Optional<String> of(String name, Collection<String> known) {
    String best = null;
    int least = Math.max(2, name.length() / 3) + 1;
    for (String candidate : known.stream().sorted().toList()) {
      int distance = distance(name, candidate);
      if (distance < least) {
        least = distance;
        best = candidate;
      }
    }
    return Optional.ofNullable(best);
  }

  /** The Levenshtein distance: the fewest characters to insert, delete or replace. */
  private static int distance(String a, String b) {
    int[] previous = new int[b.length() + 1];
    for (int j = 0; j <= b.length(); j++) {
      previous[j] = j;
    }
    for (int i = 1; i <= a.length(); i++) {
      int[] current = new int[b.length() + 1];
      current[0] = i;
      for (int j = 1; j <= b.length(); j++) {
        int replaced = previous[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
        current[j] = Math.min(replaced, Math.min(previous[j], current[j - 1]) + 1);
      }
      previous = current;
    }
    return previous[b.length()];
  }
}
