package dev.dusky.core.tables;

import dev.dusky.core.reject.Problem;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The rows of a file that the table itself refused. */
public final class Refusals {

  /**
   * One refused row.
   *
   * @param recordNumber the number of its record in the file
   * @param problems why, at least one
   */
  public record Refusal(long recordNumber, List<Problem> problems) {}

  private final int cap;
  private final List<Refusal> kept = new ArrayList<>();
  private final Map<String, BigDecimal> totals = new HashMap<>();
  private long[] records = new long[0];
  private long count;

  /** Keeps that many in full and counts the rest. */
  public Refusals(int cap) {
    this.cap = cap;
  }

  /** Notes a refused row. */
  public void add(long recordNumber, List<Problem> problems) {
    if (count == records.length) {
      records = Arrays.copyOf(records, Math.max(16, records.length * 2));
    }
    records[(int) count++] = recordNumber;
    if (kept.size() < cap) {
      kept.add(new Refusal(recordNumber, List.copyOf(problems)));
    }
  }

  /** Adds a refused row's value, or several rows', to the sum of a column. */
  public void addTotal(String column, BigDecimal value) {
    totals.merge(column, value, BigDecimal::add);
  }

  /** How many rows were refused. */
  public long count() {
    return count;
  }

  /** The numbers of their records, all of them, ascending. */
  public long[] records() {
    long[] sorted = Arrays.copyOf(records, (int) count);
    Arrays.sort(sorted);
    return sorted;
  }

  /** Those kept in full, in the order of their records. */
  public List<Refusal> kept() {
    List<Refusal> sorted = new ArrayList<>(kept);
    sorted.sort(Comparator.comparingLong(Refusal::recordNumber));
    return Collections.unmodifiableList(sorted);
  }

  /** The sum of a column over the refused rows. */
  public BigDecimal total(String column) {
    return totals.getOrDefault(column, BigDecimal.ZERO);
  }
}
