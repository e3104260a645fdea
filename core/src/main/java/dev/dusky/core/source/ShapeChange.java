package dev.dusky.core.source;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Says how the columns of a query differ from those before. */
final class ShapeChange {

  private ShapeChange() {}

  /** The difference of two lists of columns and types, in words. */
  static String between(String before, String now) {
    List<String> old = Arrays.asList(before.split(", (?![^()]*\\))"));
    List<String> current = Arrays.asList(now.split(", (?![^()]*\\))"));
    List<String> added = new ArrayList<>(current);
    added.removeAll(old);
    List<String> gone = new ArrayList<>(old);
    gone.removeAll(current);
    if (added.isEmpty() && gone.isEmpty()) {
      return "their order was %s and is %s".formatted(before, now);
    }
    List<String> parts = new ArrayList<>();
    if (!gone.isEmpty()) {
      parts.add("it no longer has " + String.join(", ", gone));
    }
    if (!added.isEmpty()) {
      parts.add("it now has " + String.join(", ", added));
    }
    return String.join(" and ", parts);
  }
}
