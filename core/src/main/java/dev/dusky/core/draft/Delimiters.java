package dev.dusky.core.draft;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * The possible delimiters of a text: the usual ones, and characters that are in nearly every line
 * equally often, from the first line on.
 */
final class Delimiters {

  /** Those that need no further evidence. */
  private static final List<String> USUAL =
      List.of(",", ";", "\t", "|", "||", "~", "^", "\u0001", "\u001f", ":");

  /** Signs within numbers, names, dates and addresses, and what is around values. */
  private static final String WITHIN = "_-./\\@%&'\"()[]{}<>+";

  private static final int LINES = 300;
  private static final int FEWEST_LINES = 3;
  private static final int LONGEST = 4;

  private Delimiters() {}

  static boolean isUsual(String delimiter) {
    return USUAL.contains(delimiter);
  }

  /** The delimiters to be tried on a text, the usual ones first. */
  static List<String> candidates(String text) {
    List<String> lines = text.lines().filter(line -> !line.isBlank()).limit(LINES).toList();
    List<String> candidates = new ArrayList<>(USUAL);
    if (lines.size() < FEWEST_LINES) {
      return candidates;
    }
    Map<String, Map<Integer, Integer>> linesByCount = new HashMap<>();
    for (String line : lines) {
      signs(line)
          .forEach(
              (sign, count) ->
                  linesByCount
                      .computeIfAbsent(sign, s -> new HashMap<>())
                      .merge(count, 1, Integer::sum));
    }
    // The first line counts separately: a character that the header lacks is part of values.
    signs(lines.get(0))
        .forEach(
            (sign, count) -> {
              boolean even = linesByCount.get(sign).get(count) >= lines.size() * 0.9;
              if (even && !candidates.contains(sign)) {
                candidates.add(sign);
              }
            });
    return candidates;
  }

  /** How often each character, and each run of several, occurs in a line. */
  private static Map<String, Integer> signs(String line) {
    Map<String, Integer> counts = new TreeMap<>();
    int i = 0;
    while (i < line.length()) {
      int end = i;
      while (end < line.length() && isSign(line.charAt(end))) {
        counts.merge(line.substring(end, end + 1), 1, Integer::sum);
        end++;
      }
      if (end - i > 1 && end - i <= LONGEST) {
        counts.merge(line.substring(i, end), 1, Integer::sum);
      }
      i = end + 1;
    }
    return counts;
  }

  private static boolean isSign(char c) {
    return !Character.isLetterOrDigit(c)
        && !Character.isWhitespace(c)
        && !Character.isSurrogate(c)
        && WITHIN.indexOf(c) < 0;
  }

  /** How a delimiter is shown. */
  static String shown(String delimiter) {
    if (delimiter.equals("\t")) {
      return "tab";
    }
    char first = delimiter.charAt(0);
    return first < 0x20 ? "0x" + (first < 0x10 ? "0" : "") + Integer.toHexString(first) : delimiter;
  }
}
