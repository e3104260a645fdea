package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.DecimalText;
import dev.dusky.core.type.FloatText;
import dev.dusky.core.type.IntegerText;
import dev.dusky.core.type.MarkedNumber;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import java.nio.charset.StandardCharsets;

/** The binders of numbers. */
final class NumberBinders {

  private NumberBinders() {}

  /** The message for a number that would have to be rounded. */
  static String tooManyDecimals(SqlType type) {
    return "has more than " + type.scale() + (type.scale() == 1 ? " decimal" : " decimals");
  }

  /** Values with another decimal or group mark are brought into plain form first. */
  private abstract static class NumberBinder extends ColumnBinder {

    private final MarkedNumber marked;
    private byte[] original;
    private int originalStart;
    private int originalEnd;

    NumberBinder(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      marked = column.marks().equals(NumberMarks.PLAIN) ? null : new MarkedNumber(column.marks());
    }

    @Override
    String exact() {
      return marked == null
          ? super.exact()
          : new String(
              original, originalStart, originalEnd - originalStart, StandardCharsets.UTF_8);
    }

    /** Whether the current value is in plain form now; if not, it is noted as a problem. */
    final boolean plain(BatchProblems problems, ColumnVector out, int record) {
      if (marked == null) {
        return true;
      }
      original = b;
      originalStart = start;
      originalEnd = end;
      int length = marked.convert(b, start, end);
      if (length < 0) {
        reject(
            problems,
            out,
            record,
            RejectCode.BAD_NUMBER,
            "is not a number with decimal mark '%s' and group mark '%s'"
                .formatted(column().marks().decimal(), column().marks().group()));
        return false;
      }
      b = marked.plain();
      start = 0;
      end = length;
      return true;
    }

    final void fail(
        BatchProblems problems, ColumnVector out, int record, RejectCode code, String range) {
      SqlType type = column().type();
      reject(
          problems,
          out,
          record,
          code,
          switch (code) {
            case OUT_OF_RANGE -> "is out of range for " + type + range;
            case TOO_MANY_DECIMALS -> tooManyDecimals(type);
            default -> "is not a number of type " + type;
          });
    }
  }

  static final class OfInteger extends NumberBinder {
    private final IntegerText text;

    OfInteger(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      text = new IntegerText(column.type().kind());
    }

    @Override
    ColumnVector newVector() {
      return new LongVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      LongVector vector = (LongVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems) && plain(problems, vector, r)) {
          long value = text.parse(b, start, end);
          if (text.failure() == null) {
            vector.set(r, value);
          } else {
            fail(problems, vector, r, text.failure(), " (" + text.range() + ")");
          }
        }
      }
    }
  }

  static final class OfDecimal extends NumberBinder {
    private final DecimalText text;

    OfDecimal(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      text = new DecimalText(column.type().precision(), column.type().scale());
    }

    @Override
    ColumnVector newVector() {
      return new DecimalVector(column().type().scale());
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      DecimalVector vector = (DecimalVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems) && plain(problems, vector, r)) {
          long value = text.parse(b, start, end);
          if (text.failure() != null) {
            fail(problems, vector, r, text.failure(), "");
          } else if (text.wide() != null) {
            vector.setWide(r, text.wide());
          } else {
            vector.set(r, value);
          }
        }
      }
    }
  }

  static final class OfFloat extends NumberBinder {
    private final FloatText text;

    OfFloat(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      text = new FloatText(column.type().kind() == TypeKind.REAL);
    }

    @Override
    ColumnVector newVector() {
      return new DoubleVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      DoubleVector vector = (DoubleVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems) && plain(problems, vector, r)) {
          double value = text.parse(b, start, end);
          if (text.failure() == null) {
            vector.set(r, value);
          } else {
            fail(problems, vector, r, text.failure(), "");
          }
        }
      }
    }
  }
}
