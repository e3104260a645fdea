package dev.dusky.core.bind;

import dev.dusky.core.reject.Problem;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The problems of the records of one batch. */
final class BatchProblems {

  private final Map<Integer, List<Problem>> byRecord = new HashMap<>();

  void clear() {
    if (!byRecord.isEmpty()) {
      byRecord.clear();
    }
  }

  void add(int record, Problem problem) {
    byRecord.computeIfAbsent(record, r -> new ArrayList<>(2)).add(problem);
  }

  boolean none() {
    return byRecord.isEmpty();
  }

  /** The record's problems, or null if it has none. */
  List<Problem> of(int record) {
    return byRecord.get(record);
  }
}
