package dev.dusky.core.bind;

import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.TypedColumns;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.core.vector.VectorText;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Fills a column from one that is typed already. Where the types agree the values are copied;
 * otherwise they go through their text and the column's binder, so that typed files and text files
 * give the same values and the same rejects. Hot.
 */
final class TypedColumnBinder {

  private final RecordBatch texts = new RecordBatch(0);
  private byte[] heap = new byte[1 << 12];
  private int used;
  private int[] starts = new int[0];
  private int[] lengths = new int[0];

  void bind(
      ColumnBinder binder, RecordBatch in, int field, ColumnVector out, BatchProblems problems) {
    TypedColumns columns = in.typed();
    SqlType given = columns.types().get(field);
    SqlType wanted = binder.column().type();
    ColumnVector source = columns.vectors().get(field);
    if (!binder.hasDefault() && copies(given, wanted)) {
      copy(source, given, wanted, binder, in, out, problems);
      return;
    }
    int rows = in.records();
    if (starts.length < rows) {
      starts = new int[rows + rows / 4];
      lengths = new int[rows + rows / 4];
    }
    boolean bytesToText = given.kind() == TypeKind.BINARY && wanted.kind().isText();
    byte[] bytes =
        given.kind() == TypeKind.TEXT || given.kind() == TypeKind.JSON || bytesToText
            ? overlay((BytesVector) source, rows)
            : render(given, source, rows);
    texts.overlay(bytes, rows, starts, lengths);
    for (int r = 0; in.anyFault() && r < rows; r++) {
      if (in.fault(r) != null) {
        texts.fault(r, in.fault(r));
      }
    }
    binder.bind(texts, out, problems);
  }

  private static boolean copies(SqlType given, SqlType wanted) {
    TypeKind kind = given.kind();
    return switch (wanted.kind()) {
      case SMALLINT, INTEGER, BIGINT -> kind.isInteger();
      case DECIMAL ->
          kind == TypeKind.DECIMAL
              && given.scale() == wanted.scale()
              && given.precision() <= wanted.precision();
      case DOUBLE -> kind == TypeKind.DOUBLE;
      case REAL, BOOLEAN, DATE, TIME, TIMESTAMP, TIMESTAMP_TZ, UUID -> kind == wanted.kind();
      case BINARY -> kind == TypeKind.BINARY && wanted.length() == 0;
      default -> false;
    };
  }

  private static void copy(
      ColumnVector source,
      SqlType given,
      SqlType wanted,
      ColumnBinder binder,
      RecordBatch in,
      ColumnVector out,
      BatchProblems problems) {
    boolean narrower = wanted.kind().compareTo(given.kind()) < 0;
    for (int r = 0; r < in.records(); r++) {
      if (in.fault(r) != null) {
        out.setNull(r);
      } else if (source.isNull(r)) {
        binder.nothing(r, out, problems);
      } else if (source instanceof LongVector from) {
        long value = from.get(r);
        if (narrower && outside(wanted.kind(), value)) {
          binder.reject(
              problems,
              out,
              r,
              dev.dusky.core.reject.RejectCode.OUT_OF_RANGE,
              Long.toString(value),
              "is out of range for " + wanted);
        } else {
          ((LongVector) out).set(r, value);
        }
      } else if (source instanceof DoubleVector from) {
        ((DoubleVector) out).set(r, from.get(r));
      } else if (source instanceof DecimalVector from) {
        if (from.isWide(r)) {
          ((DecimalVector) out).setWide(r, from.get(r).unscaledValue());
        } else {
          ((DecimalVector) out).set(r, from.unscaled(r));
        }
      } else if (source instanceof UuidVector from) {
        ((UuidVector) out).set(r, from.high(r), from.low(r));
      } else if (source instanceof BytesVector from) {
        int start = from.start(r);
        ((BytesVector) out).set(r, from.heap(), start, start + from.length(r));
      }
    }
  }

  private static boolean outside(TypeKind kind, long value) {
    return kind == TypeKind.SMALLINT ? value != (short) value : value != (int) value;
  }

  private byte[] overlay(BytesVector source, int rows) {
    for (int r = 0; r < rows; r++) {
      boolean there = !source.isNull(r);
      starts[r] = there ? source.start(r) : 0;
      lengths[r] = there ? source.length(r) : -1;
    }
    return source.heap();
  }

  private byte[] render(SqlType given, ColumnVector source, int rows) {
    used = 0;
    for (int r = 0; r < rows; r++) {
      lengths[r] = -1;
      if (!source.isNull(r)) {
        byte[] text = VectorText.text(given, source, r).getBytes(StandardCharsets.UTF_8);
        if (heap.length - used < text.length + 64) {
          heap = Arrays.copyOf(heap, Math.max(used + text.length + 64, heap.length * 2));
        }
        System.arraycopy(text, 0, heap, used, text.length);
        starts[r] = used;
        lengths[r] = text.length;
        used += text.length;
      }
    }
    return heap;
  }
}
