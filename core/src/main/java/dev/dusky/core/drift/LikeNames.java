package dev.dusky.core.drift;

import java.util.Collection;
import java.util.Locale;
import java.util.Optional;

/** Names that look as if one was made of the other. They are suggested, never assumed. */
final class LikeNames {

  private LikeNames() {}

  /** The name among the candidates that looks like this one, if one does. */
  static Optional<String> of(String name, Collection<String> candidates) {
    String wanted = plain(name);
    return candidates.stream().filter(candidate -> alike(wanted, plain(candidate))).findFirst();
  }

  private static boolean alike(String a, String b) {
    if (a.length() < 3 || b.length() < 3) {
      return a.equals(b);
    }
    int most = Math.max(1, Math.min(a.length(), b.length()) / 3);
    return a.equals(b) || a.startsWith(b) || b.startsWith(a) || distance(a, b) <= most;
  }

  private static String plain(String name) {
    return name.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]+", "");
  }

  /** The least number of letters to change, leave out or add (Levenshtein 1965), row by row. */
  private static int distance(String a, String b) {
    int[] row = new int[b.length() + 1];
    for (int j = 0; j <= b.length(); j++) {
      row[j] = j;
    }
    for (int i = 1; i <= a.length(); i++) {
      int diagonal = row[0];
      row[0] = i;
      for (int j = 1; j <= b.length(); j++) {
        int change = diagonal + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
        diagonal = row[j];
        row[j] = Math.min(change, Math.min(row[j], row[j - 1]) + 1);
      }
    }
    return row[b.length()];
  }
}
