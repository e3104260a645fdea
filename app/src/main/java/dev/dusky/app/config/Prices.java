package dev.dusky.app.config;

import dev.dusky.core.usage.Request;
import dev.dusky.core.usage.Usage;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;

/**
 * What resources cost.
 *
 * @param currency the currency, as shown
 * @param perThousand for a thousand requests of each kind
 * @param inPerGigabyte for 10^9 bytes received
 * @param outPerGigabyte for 10^9 bytes sent
 * @param processorHour for an hour of processor time
 */
public record Prices(
    String currency,
    Map<Request, BigDecimal> perThousand,
    BigDecimal inPerGigabyte,
    BigDecimal outPerGigabyte,
    BigDecimal processorHour) {

  private static final int SHOWN_DECIMALS = 6;
  private static final int EXACT_DECIMALS = 12;
  private static final BigDecimal HOUR_MILLIS = BigDecimal.valueOf(3_600_000);

  /** What was used costs this much. */
  public BigDecimal of(Usage usage) {
    BigDecimal cost =
        inPerGigabyte
            .multiply(BigDecimal.valueOf(usage.bytesIn()).movePointLeft(9))
            .add(outPerGigabyte.multiply(BigDecimal.valueOf(usage.bytesOut()).movePointLeft(9)))
            .add(
                processorHour
                    .multiply(BigDecimal.valueOf(usage.processorMillis()))
                    .divide(HOUR_MILLIS, MathContext.DECIMAL64));
    for (Map.Entry<Request, Long> kind : usage.requests().entrySet()) {
      BigDecimal thousands = BigDecimal.valueOf(kind.getValue()).movePointLeft(3);
      cost = cost.add(perThousand.getOrDefault(kind.getKey(), BigDecimal.ZERO).multiply(thousands));
    }
    return cost;
  }

  /** What a million rows cost at that rate; empty without rows. */
  public Optional<BigDecimal> perMillion(Usage usage, long rows) {
    return rows == 0
        ? Optional.empty()
        : Optional.of(
            of(usage)
                .movePointRight(6)
                .divide(BigDecimal.valueOf(rows), EXACT_DECIMALS, RoundingMode.HALF_UP));
  }

  /** An amount as it is shown. */
  public static String shown(BigDecimal amount) {
    return amount.setScale(SHOWN_DECIMALS, RoundingMode.HALF_UP).toPlainString();
  }

  /** The section {@code prices}, if there is one. */
  static Optional<Prices> read(Section top) {
    return top.node("prices").map(node -> price(top.section("prices", node)));
  }

  private static Prices price(Section section) {
    Map<Request, BigDecimal> requests = new EnumMap<>(Request.class);
    section
        .node("per-1000")
        .map(node -> section.section("per-1000", node))
        .ifPresent(
            kinds -> {
              for (Request kind : Request.values()) {
                requests.put(kind, amount(kinds, kind.label()));
              }
              kinds.done();
            });
    BigDecimal in = BigDecimal.ZERO;
    BigDecimal out = BigDecimal.ZERO;
    Optional<Section> bytes = section.node("per-gb").map(node -> section.section("per-gb", node));
    if (bytes.isPresent()) {
      in = amount(bytes.get(), "in");
      out = amount(bytes.get(), "out");
      bytes.get().done();
    }
    Prices prices =
        new Prices(
            section.required("currency"), requests, in, out, amount(section, "processor-hour"));
    section.done();
    return prices;
  }

  private static BigDecimal amount(Section section, String key) {
    String text = section.text(key).orElse("0");
    if (!text.matches("\\d{1,9}(\\.\\d{1,12})?")) {
      section.problem(key, "%s cannot be '%s'; write an amount such as 0.09".formatted(key, text));
      return BigDecimal.ZERO;
    }
    return new BigDecimal(text);
  }
}
