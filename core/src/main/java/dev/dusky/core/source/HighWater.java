package dev.dusky.core.source;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;

/**
 * The greatest value of a column among the rows that were staged, as a number: of a time its
 * microseconds, of a date its days since 1970-01-01. Written as text: a number in digits, times in
 * ISO 8601.
 */
final class HighWater {

  /** How far the clocks of zones are ahead of UTC at most. */
  private static final Duration ZONES = Duration.ofHours(14);

  /** How far another machine's clock may be ahead. */
  private static final Duration CLOCKS = Duration.ofMinutes(1);

  private final SqlType type;
  private final int index;
  private BigInteger greatest;
  private long none;

  /**
   * The high water of one column.
   *
   * @param index the column's position among those of the query
   */
  HighWater(SqlType type, int index) {
    this.type = type;
    this.index = index;
  }

  /** Whether values of a type have an order that all databases agree on. */
  static boolean serves(SqlType type) {
    return type.kind().isInteger()
        || type.kind() == TypeKind.DECIMAL
        || type.kind() == TypeKind.DATE
        || type.kind() == TypeKind.TIMESTAMP
        || type.kind() == TypeKind.TIMESTAMP_TZ;
  }

  /** Takes the values of a batch. Several threads may do so in turn. */
  synchronized void add(SourceBatch batch) {
    ColumnVector vector = batch.column(index);
    if (vector instanceof LongVector longs) {
      long most = Long.MIN_VALUE;
      for (int row = 0; row < batch.rows(); row++) {
        if (vector.isNull(row)) {
          none++;
        } else {
          most = Math.max(most, longs.get(row));
        }
      }
      if (most != Long.MIN_VALUE) {
        take(BigInteger.valueOf(most));
      }
      return;
    }
    DecimalVector decimals = (DecimalVector) vector;
    for (int row = 0; row < batch.rows(); row++) {
      if (vector.isNull(row)) {
        none++;
      } else {
        take(decimals.get(row).unscaledValue());
      }
    }
  }

  private void take(BigInteger value) {
    greatest = greatest == null ? value : greatest.max(value);
  }

  /** How many rows had no value. */
  long none() {
    return none;
  }

  /**
   * The high water after a run.
   *
   * @param before the high water before it, or null
   * @param now when the run began; a time that is later cannot be one
   */
  String after(String before, Instant now) {
    BigInteger found = greatest;
    if (found != null && isTime()) {
      found = found.min(number(latest(now)));
    }
    if (before != null && (found == null || number(before).compareTo(found) > 0)) {
      return before;
    }
    return found == null ? null : text(found);
  }

  /** Whether rows are stamped later than it is. */
  boolean beyond(Instant now) {
    return greatest != null && isTime() && greatest.compareTo(number(latest(now))) > 0;
  }

  private boolean isTime() {
    return type.kind().isTemporal();
  }

  private String latest(Instant now) {
    Instant ahead = now.plus(type.kind() == TypeKind.TIMESTAMP_TZ ? CLOCKS : ZONES);
    LocalDateTime time = LocalDateTime.ofInstant(ahead, ZoneOffset.UTC);
    return switch (type.kind()) {
      case DATE -> time.toLocalDate().toString();
      case TIMESTAMP -> time.truncatedTo(ChronoUnit.MICROS).toString();
      default -> time.truncatedTo(ChronoUnit.MICROS).atOffset(ZoneOffset.UTC).toString();
    };
  }

  /** From where rows are read: the high water less the overlap. */
  String from(String high, Source.Newer newer) {
    BigInteger number = number(high);
    BigInteger back =
        switch (type.kind()) {
          case DATE -> BigInteger.valueOf(newer.overlap().toDays());
          case TIMESTAMP, TIMESTAMP_TZ -> BigInteger.valueOf(newer.overlap().toNanos() / 1000);
          case DECIMAL -> BigDecimal.valueOf(newer.back()).setScale(type.scale()).unscaledValue();
          default -> BigInteger.valueOf(newer.back());
        };
    return text(number.subtract(back));
  }

  private BigInteger number(String text) {
    return switch (type.kind()) {
      case DATE -> BigInteger.valueOf(LocalDate.parse(text).toEpochDay());
      case TIMESTAMP -> micros(LocalDateTime.parse(text).toInstant(ZoneOffset.UTC));
      case TIMESTAMP_TZ -> micros(OffsetDateTime.parse(text).toInstant());
      default -> new BigDecimal(text).setScale(type.scale()).unscaledValue();
    };
  }

  private static BigInteger micros(Instant instant) {
    return BigInteger.valueOf(
        Math.addExact(
            Math.multiplyExact(instant.getEpochSecond(), 1_000_000L), instant.getNano() / 1000));
  }

  private String text(BigInteger number) {
    return switch (type.kind()) {
      case DATE -> LocalDate.ofEpochDay(number.longValueExact()).toString();
      case TIMESTAMP -> time(number).toString();
      case TIMESTAMP_TZ -> time(number).atOffset(ZoneOffset.UTC).toString();
      default -> new BigDecimal(number, type.scale()).toPlainString();
    };
  }

  private static LocalDateTime time(BigInteger micros) {
    long value = micros.longValueExact();
    return LocalDateTime.ofEpochSecond(
        Math.floorDiv(value, 1_000_000L),
        (int) Math.floorMod(value, 1_000_000L) * 1000,
        ZoneOffset.UTC);
  }
}
