package dev.dusky.core.tally;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.Optional;

/** How many rejects a file may have and still be posted. */
public sealed interface Tolerance {

  /** No reject is tolerated: the default. */
  Tolerance NONE = new Count(0);

  /** Whether a whole file with these counts may be posted. */
  boolean allows(long rejected, long read);

  /** By how much these counts are beyond it, and what would have passed, in words. */
  default String exceeded(long rejected, long read) {
    BigDecimal share = share(rejected, read);
    String passing =
        this instanceof Share ? share.toPlainString() + "%" : "%,d".formatted(rejected);
    String over =
        this instanceof Count count
            ? "%,d more than the tolerance of %,d".formatted(rejected - count.rows(), count.rows())
            : "over the tolerance of " + this;
    return "%,d of %,d rows rejected (%s%%), %s; a tolerance of %s would have passed"
        .formatted(rejected, read, share.toPlainString(), over, passing);
  }

  /** The share in percent, rounded up: to two decimals, or six of one below 0.1. */
  private static BigDecimal share(long rejected, long read) {
    int scale = rejected * 1000.0 >= read ? 2 : 6;
    BigDecimal share =
        BigDecimal.valueOf(rejected)
            .movePointRight(2)
            .divide(BigDecimal.valueOf(Math.max(1, read)), scale, RoundingMode.UP)
            .stripTrailingZeros();
    return share.setScale(Math.max(0, share.scale()), RoundingMode.UNNECESSARY);
  }

  /** A number of rows. */
  record Count(long rows) implements Tolerance {
    @Override
    public boolean allows(long rejected, long read) {
      return rejected <= rows;
    }

    @Override
    public String toString() {
      return Long.toString(rows);
    }
  }

  /** A share of the rows read, in percent. */
  record Share(BigDecimal percent) implements Tolerance {
    @Override
    public boolean allows(long rejected, long read) {
      return BigDecimal.valueOf(rejected)
              .movePointRight(2)
              .compareTo(percent.multiply(BigDecimal.valueOf(read)))
          <= 0;
    }

    @Override
    public String toString() {
      return percent.toPlainString() + "%";
    }
  }

  /** Any number of rows. */
  record Any() implements Tolerance {
    @Override
    public boolean allows(long rejected, long read) {
      return true;
    }

    @Override
    public String toString() {
      return "any";
    }
  }

  /** Reads {@code 25}, {@code 0.5%} or {@code any}; empty if the text is none of these. */
  static Optional<Tolerance> parse(String text) {
    String trimmed = text.trim();
    if (trimmed.equals("any")) {
      return Optional.of(new Any());
    }
    if (trimmed.matches("\\d{1,3}(\\.\\d{1,6})?\\s*%")) {
      BigDecimal percent = new BigDecimal(trimmed.substring(0, trimmed.length() - 1).trim());
      return percent.compareTo(BigDecimal.valueOf(100)) > 0
          ? Optional.empty()
          : Optional.of(new Share(percent));
    }
    return trimmed.matches("\\d{1,18}")
        ? Optional.of(new Count(Long.parseLong(trimmed)))
        : Optional.empty();
  }
}
