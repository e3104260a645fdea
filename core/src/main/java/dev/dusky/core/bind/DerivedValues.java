package dev.dusky.core.bind;

import dev.dusky.core.expression.Evaluator;
import dev.dusky.core.expression.NoResult;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.LongVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.function.IntPredicate;

/**
 * Stores the results of an expression in a column. As strict as reading a field: a result that the
 * column's type cannot hold unchanged is a problem. Results of the column's own type go in
 * directly; others go through their text and the column's binder. Hot.
 */
final class DerivedValues {

  private static final long[] POWERS = new long[19];

  static {
    POWERS[0] = 1;
    for (int i = 1; i < POWERS.length; i++) {
      POWERS[i] = POWERS[i - 1] * 10;
    }
  }

  private final Evaluator evaluator;
  private final ColumnBinder binder;
  private final RecordBatch texts = new RecordBatch(0);
  private final boolean direct;
  private byte[] heap = new byte[1 << 12];
  private int used;
  private int[] starts = new int[0];
  private int[] lengths = new int[0];

  DerivedValues(Evaluator evaluator, ColumnBinder binder) {
    this.evaluator = evaluator;
    this.binder = binder;
    TypeKind kind = binder.column().type().kind();
    TypeKind given = evaluator.type();
    this.direct =
        kind == given && (kind == TypeKind.BOOLEAN || kind.isTemporal() || kind.isInteger())
            || kind == TypeKind.DECIMAL && given == kind;
  }

  void bind(RecordBatch in, ColumnVector out, BatchProblems problems, IntPredicate usable) {
    int rows = in.records();
    if (starts.length < rows) {
      starts = new int[rows + rows / 4];
      lengths = new int[rows + rows / 4];
    }
    used = 0;
    boolean check = !problems.none() || in.anyFault();
    boolean[] failed = null;
    for (int r = 0; r < rows; r++) {
      lengths[r] = -1;
      if (check && !usable.test(r)) {
        out.setNull(r);
        failed = failed == null ? new boolean[rows] : failed;
        failed[r] = true;
        continue;
      }
      try {
        boolean there = evaluator.eval(r);
        if (!direct) {
          if (there) {
            keep(r);
          }
        } else if (there) {
          set(r, out, problems);
        } else {
          binder.nothing(r, out, problems);
        }
      } catch (NoResult e) {
        problems.add(
            r,
            new Problem(
                RejectCode.FAILED_EXPRESSION,
                binder.column().name(),
                "",
                "'%s' has no result: %s".formatted(evaluator.formula(), e.getMessage())));
        out.setNull(r);
        failed = failed == null ? new boolean[rows] : failed;
        failed[r] = true;
      }
    }
    if (!direct) {
      texts.overlay(heap, rows, starts, lengths);
      for (int r = 0; failed != null && r < rows; r++) {
        if (failed[r]) {
          texts.fault(r, new RecordFault(RejectCode.FAILED_EXPRESSION, 0, ""));
        }
      }
      binder.bind(texts, out, problems);
    }
  }

  private void set(int r, ColumnVector out, BatchProblems problems) {
    if (!(out instanceof DecimalVector decimals)) {
      ((LongVector) out).set(r, evaluator.whole());
      return;
    }
    int up = decimals.scale() - evaluator.scale();
    int precision = binder.column().type().precision();
    boolean narrow = !evaluator.isWide() && up >= 0 && up < 19 && precision <= 18;
    if (narrow && Math.abs(evaluator.unscaled()) < POWERS[precision] / POWERS[up]) {
      decimals.set(r, evaluator.unscaled() * POWERS[up]);
      return;
    }
    BigDecimal value = evaluator.decimal();
    if (value.scale() > decimals.scale() && decimalsOf(value) > decimals.scale()) {
      binder.reject(
          problems,
          decimals,
          r,
          RejectCode.TOO_MANY_DECIMALS,
          value.toPlainString(),
          NumberBinders.tooManyDecimals(binder.column().type()) + "; round it in the expression");
      return;
    }
    BigInteger unscaled = value.setScale(decimals.scale()).unscaledValue();
    if (new BigDecimal(unscaled).precision() > precision && unscaled.signum() != 0) {
      binder.reject(
          problems,
          decimals,
          r,
          RejectCode.OUT_OF_RANGE,
          value.toPlainString(),
          "is out of range for " + binder.column().type());
    } else if (unscaled.bitLength() > 59) {
      decimals.setWide(r, unscaled);
    } else {
      decimals.set(r, unscaled.longValue());
    }
  }

  private static int decimalsOf(BigDecimal value) {
    return value.signum() == 0 ? 0 : value.stripTrailingZeros().scale();
  }

  private void keep(int r) {
    byte[] source;
    int from;
    int to;
    if (evaluator.type() == TypeKind.TEXT || evaluator.type() == TypeKind.JSON) {
      source = evaluator.bytes();
      from = evaluator.from();
      to = evaluator.to();
    } else {
      source = evaluator.text().getBytes(StandardCharsets.UTF_8);
      from = 0;
      to = source.length;
    }
    int length = to - from;
    if (heap.length - used < length + 64) {
      heap = Arrays.copyOf(heap, Math.max(used + length + 64, heap.length * 2));
    }
    System.arraycopy(source, from, heap, used, length);
    starts[r] = used;
    lengths[r] = length;
    used += length;
  }
}
