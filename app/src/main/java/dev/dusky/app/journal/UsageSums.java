package dev.dusky.app.journal;

import dev.dusky.app.config.Prices;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.usage.Usage;
import dev.dusky.core.usage.UsageLine;
import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Sums what loads and merges used. */
public final class UsageSums {

  /** How usage is summed. */
  public enum By {
    /** All of the period, for each feed and merge. */
    FEED,
    /** For each day, too. */
    DAY,
    /** For each month, too. */
    MONTH;

    String period(LocalDate day) {
      return switch (this) {
        case FEED -> "";
        case DAY -> day.toString();
        case MONTH -> day.toString().substring(0, 7);
      };
    }
  }

  /**
   * A sum.
   *
   * @param period the day or month; empty for all
   * @param name the feed or merge
   * @param merge whether it is a merge
   * @param cost what it cost, if prices are configured
   * @param perMillion what a million rows cost
   */
  public record Sum(
      String period,
      String name,
      boolean merge,
      long runs,
      long files,
      long rows,
      Usage usage,
      Optional<BigDecimal> cost,
      Optional<BigDecimal> perMillion) {

    private static Sum none(String period, UsageLine line) {
      return new Sum(
          period,
          line.name(),
          line.merge(),
          0,
          0,
          0,
          Usage.NONE,
          Optional.empty(),
          Optional.empty());
    }

    private Sum plus(UsageLine line) {
      return new Sum(
          period,
          name,
          merge,
          runs + line.runs(),
          files + line.files(),
          rows + line.rows(),
          usage.plus(line.usage()),
          cost,
          perMillion);
    }

    private Sum at(Optional<Prices> prices) {
      return new Sum(
          period,
          name,
          merge,
          runs,
          files,
          rows,
          usage,
          prices.map(p -> p.of(usage)),
          prices.flatMap(p -> p.perMillion(usage, rows)));
    }
  }

  private final Workspace workspace;

  /** Sums over the ledger of that workspace. */
  public UsageSums(Workspace workspace) {
    this.workspace = workspace;
  }

  /** The way of summing that an option gives. */
  public static By by(String word) {
    for (By by : By.values()) {
      if (by.name().toLowerCase(Locale.ROOT).equals(word)) {
        return by;
      }
    }
    throw Failure.usage("--by cannot be '" + word + "'").hint("It is feed, day or month");
  }

  /**
   * The sums of loads and merges that started within a span up to now, in order of time and name.
   *
   * @param name only this feed or merge
   */
  public List<Sum> of(Optional<String> name, Duration span, By by) {
    Instant now = Instant.now();
    Map<String, Sum> sums = new LinkedHashMap<>();
    for (UsageLine line : workspace.warehouse().report().usage(now.minus(span), now)) {
      if (name.isEmpty() || name.get().equals(line.name())) {
        String period = by.period(line.day());
        String key = period + " " + line.merge() + " " + line.name();
        sums.put(key, sums.getOrDefault(key, Sum.none(period, line)).plus(line));
      }
    }
    Optional<Prices> prices = workspace.configuration().prices();
    return sums.values().stream().map(sum -> sum.at(prices)).toList();
  }
}
