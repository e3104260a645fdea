package dev.dusky.core.advice;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Groups problems as they come; memory grows with the kinds of problem, not with their number. */
public final class ProblemGroups {

  private record Key(String feed, String column, RejectCode code) {}

  private final Map<Key, ProblemGroup> groups = new LinkedHashMap<>();

  /** Adds a problem. */
  public void add(String feed, Sighting sighting, Problem problem) {
    groups
        .computeIfAbsent(
            new Key(feed, problem.column(), problem.code()),
            key -> new ProblemGroup(key.feed(), key.column(), key.code()))
        .add(sighting, problem.value(), problem.message());
  }

  /** The groups, of each feed the largest first. */
  public List<ProblemGroup> groups() {
    List<ProblemGroup> sorted = new ArrayList<>(groups.values());
    sorted.sort(
        Comparator.comparing(ProblemGroup::feed)
            .thenComparing(Comparator.comparingLong(ProblemGroup::count).reversed())
            .thenComparing(ProblemGroup::column)
            .thenComparing(ProblemGroup::code));
    return sorted;
  }
}
