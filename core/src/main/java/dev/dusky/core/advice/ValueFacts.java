package dev.dusky.core.advice;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Statistics of the offending values of one group of problems, in bounded memory. */
public final class ValueFacts {

  /** Distinct values beyond this many are not remembered. */
  private static final int MOST = 1000;

  private final Map<String, Long> distinct = new LinkedHashMap<>();
  private boolean more;
  private boolean numbers = true;
  private String longest = "";
  private String smallest;
  private String largest;

  void add(String value) {
    if (value.isEmpty()) {
      return;
    }
    if (distinct.size() < MOST || distinct.containsKey(value)) {
      distinct.merge(value, 1L, Long::sum);
    } else {
      more = true;
    }
    if (length(value) > length(longest)) {
      longest = value;
    }
    if (numbers && number(value).isEmpty()) {
      numbers = false;
      smallest = null;
      largest = null;
      distinct.keySet().forEach(this::range);
    }
    range(value);
  }

  private void range(String value) {
    smallest = smallest == null || compare(value, smallest) < 0 ? value : smallest;
    largest = largest == null || compare(value, largest) > 0 ? value : largest;
  }

  private int compare(String a, String b) {
    return numbers ? number(a).get().compareTo(number(b).get()) : a.compareTo(b);
  }

  /** The value as a number, if it is one. */
  static Optional<BigDecimal> number(String value) {
    return value.length() <= 400 && value.matches("[-+]?\\d+(\\.\\d*)?")
        ? Optional.of(new BigDecimal(value))
        : Optional.empty();
  }

  private static int length(String value) {
    return value.codePointCount(0, value.length());
  }

  /** The distinct values met, in the order in which they came, the first thousand of them. */
  public List<String> values() {
    return new ArrayList<>(distinct.keySet());
  }

  /** Whether there are more distinct values than are remembered. */
  public boolean more() {
    return more;
  }

  /** Whether all are plain numbers. */
  public boolean numbers() {
    return numbers && !distinct.isEmpty();
  }

  /** The longest in characters. */
  public String longest() {
    return longest;
  }

  /** The smallest, as numbers if all are. */
  public Optional<String> smallest() {
    return Optional.ofNullable(smallest);
  }

  /** The largest, as numbers if all are. */
  public Optional<String> largest() {
    return Optional.ofNullable(largest);
  }

  /** Up to a given number of distinct examples. */
  public List<String> examples(int most) {
    return distinct.keySet().stream().limit(most).toList();
  }
}
