package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.nested.NestedFault;
import dev.dusky.core.nested.NestedReader;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.BinaryText;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.type.Utf8;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;

/** The binders of text, JSON and binary data. */
final class TextBinders {

  private TextBinders() {}

  private static void badEncoding(
      ColumnBinder binder, BatchProblems problems, ColumnVector out, int r, int length) {
    int at = -1 - length;
    int value = binder.b[binder.start + at] & 0xff;
    binder.reject(
        problems,
        out,
        r,
        RejectCode.BAD_ENCODING,
        value == 0
            ? "has a NUL character at byte " + at
            : "is not valid text at byte %d (0x%02X)".formatted(at, value));
  }

  static final class OfText extends ColumnBinder {
    private final int most;
    private final boolean padded;

    OfText(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      most = column.type().length() == 0 ? Integer.MAX_VALUE : column.type().length();
      padded = column.type().kind() == TypeKind.CHAR;
    }

    @Override
    ColumnVector newVector() {
      return new BytesVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      BytesVector vector = (BytesVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          while (padded && end > start && b[end - 1] == ' ') {
            end--; // blanks at the end of a char value carry no meaning in SQL
          }
          int length = Utf8.length(b, start, end);
          if (length < 0) {
            badEncoding(this, problems, vector, r, length);
          } else if (length > most) {
            reject(
                problems,
                vector,
                r,
                RejectCode.TEXT_TOO_LONG,
                "has %,d characters, more than %s holds".formatted(length, column().type()));
          } else {
            vector.set(r, b, start, end);
          }
        }
      }
    }
  }

  static final class OfJson extends ColumnBinder {
    private final JsonTree tree = new JsonTree();
    private final NestedReader form;

    OfJson(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      form = column.type().isNested() ? NestedReader.of(column.type()) : null;
    }

    @Override
    ColumnVector newVector() {
      return new BytesVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      BytesVector vector = (BytesVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          int length = Utf8.length(b, start, end);
          if (length < 0) {
            badEncoding(this, problems, vector, r, length);
          } else if (!tree.read(b, start, end)) {
            reject(problems, vector, r, RejectCode.BAD_JSON, "is not JSON: " + tree.failure());
          } else if (form == null || hasForm(vector, r, problems)) {
            vector.set(r, b, start, end);
          }
        }
      }
    }

    /** Whether the current value has the declared form and is not null; if not, that is noted. */
    private boolean hasForm(BytesVector vector, int record, BatchProblems problems) {
      try {
        if (form.read(tree) != null) {
          return true;
        }
        nothing(record, vector, problems);
      } catch (NestedFault fault) {
        if (fault.code() == RejectCode.NULL_VALUE) {
          vector.setNull(record);
          problems.add(record, new Problem(fault.code(), column().name(), "", fault.getMessage()));
          return false;
        }
        rejectPart(problems, vector, record, fault.code(), fault.value(), fault.getMessage());
      }
      return false;
    }
  }

  static final class OfBinary extends ColumnBinder {
    private final BinaryText text;
    private final String notation;
    private final int most;

    OfBinary(Feed feed, FeedColumn column, int position) {
      super(feed, column, position);
      notation = column.pattern().orElse("hex");
      text = notation.equals("base64") ? BinaryText.base64() : BinaryText.hex();
      most = column.type().length() == 0 ? Integer.MAX_VALUE : column.type().length();
    }

    @Override
    ColumnVector newVector() {
      return new BytesVector();
    }

    @Override
    void bind(RecordBatch in, ColumnVector out, BatchProblems problems) {
      BytesVector vector = (BytesVector) out;
      for (int r = 0; r < in.records(); r++) {
        if (locate(in, r, vector, problems)) {
          byte[] value = text.parse(b, start, end);
          if (value == null) {
            reject(problems, vector, r, RejectCode.BAD_BINARY, "is not binary data in " + notation);
          } else if (value.length > most) {
            reject(
                problems,
                vector,
                r,
                RejectCode.TEXT_TOO_LONG,
                "has %,d bytes, more than %s holds".formatted(value.length, column().type()));
          } else {
            vector.set(r, value, 0, value.length);
          }
        }
      }
    }
  }
}
