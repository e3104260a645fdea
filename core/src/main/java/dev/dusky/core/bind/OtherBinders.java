package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.BooleanText;
import dev.dusky.core.type.TemporalPattern;
import dev.dusky.core.type.TemporalText;
import dev.dusky.core.type.UuidText;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;

/** The binders of dates, times, truth values and UUIDs. */
final class OtherBinders {

  private OtherBinders() {}

  static final class OfTemporal extends ColumnBinder {
    private final TemporalText text;
    private final RejectCode code;

    OfTemporal(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      text =
          new TemporalText(
              column.type().kind(),
              column.pattern().map(TemporalPattern::of).orElse(null),
              column.zone().orElse(null));
      code =
          switch (column.type().kind()) {
            case DATE -> RejectCode.BAD_DATE;
            case TIME -> RejectCode.BAD_TIME;
            default -> RejectCode.BAD_TIMESTAMP;
          };
    }

    @Override
    ColumnVector newVector() {
      return new LongVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      LongVector vector = (LongVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          long value = text.parse(b, start, end);
          if (text.failure() == null) {
            vector.set(r, value);
          } else {
            reject(problems, vector, r, code, text.failure());
          }
        }
      }
    }
  }

  static final class OfBoolean extends ColumnBinder {
    private final BooleanText text;

    OfBoolean(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      text = column.pattern().map(BooleanText::of).orElseGet(BooleanText::common);
    }

    @Override
    ColumnVector newVector() {
      return new LongVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      LongVector vector = (LongVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          long value = text.parse(b, start, end);
          if (text.failed()) {
            reject(problems, vector, r, RejectCode.BAD_BOOLEAN, "is neither true nor false");
          } else {
            vector.set(r, value);
          }
        }
      }
    }
  }

  static final class OfUuid extends ColumnBinder {
    private final UuidText text = new UuidText();

    OfUuid(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
    }

    @Override
    ColumnVector newVector() {
      return new UuidVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      UuidVector vector = (UuidVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          if (text.parse(b, start, end)) {
            vector.set(r, text.high(), text.low());
          } else {
            reject(problems, vector, r, RejectCode.BAD_UUID, "is not a UUID");
          }
        }
      }
    }
  }
}
