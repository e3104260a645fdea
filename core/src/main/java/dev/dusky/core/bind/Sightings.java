package dev.dusky.core.bind;

import dev.dusky.core.type.TypeGuess;
import java.util.LinkedHashMap;
import java.util.Map;

/** Statistics of unknown fields, and of values that do not fit their column. */
public final class Sightings {

  private final Map<String, TypeGuess> unknown = new LinkedHashMap<>();
  private final Map<String, TypeGuess> misfits = new LinkedHashMap<>();

  void unknown(String field, String text, boolean structure) {
    unknown.computeIfAbsent(field, f -> new TypeGuess()).add(text, structure);
  }

  void misfit(String column, String text) {
    misfits.computeIfAbsent(column, c -> new TypeGuess()).add(text, false);
  }

  void clear() {
    unknown.clear();
    misfits.clear();
  }

  /** Takes over what others saw. */
  public void add(Sightings other) {
    other.unknown.forEach((f, g) -> unknown.computeIfAbsent(f, x -> new TypeGuess()).add(g));
    other.misfits.forEach((c, g) -> misfits.computeIfAbsent(c, x -> new TypeGuess()).add(g));
  }

  /** The values of unknown fields, by name or path. */
  public Map<String, TypeGuess> unknown() {
    return unknown;
  }

  /** The values that do not fit, by the feed's column. */
  public Map<String, TypeGuess> misfits() {
    return misfits;
  }
}
