package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.record.FieldText;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.vector.ColumnVector;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Fills one column from the fields of a record batch. Each subclass has its own loop, so that the
 * compiler sees one type in it. Hot.
 */
abstract class ColumnBinder {

  private final FeedColumn column;
  private final int position;
  private final FieldText text;
  private final boolean plainText;
  private final NullMarks nulls;
  private final int longestNull;
  private final byte[] defaultText;
  private Leftovers leftovers;

  /** Where the current value is. */
  byte[] b;

  int start;
  int end;

  ColumnBinder(Feed feed, FeedColumn column, int position) {
    this.column = column;
    this.position = position;
    this.text = new FieldText(feed.layout());
    this.plainText = text.isPlain();
    this.nulls = new NullMarks(feed.layout());
    this.longestNull = nulls.longest();
    this.defaultText =
        column.defaultText().map(t -> t.getBytes(StandardCharsets.UTF_8)).orElse(null);
  }

  /** The vector that this fills. */
  abstract ColumnVector newVector();

  /** Binds this column of all records that could be split into fields. */
  abstract void bind(RecordBatch in, ColumnVector out, BatchProblems problems);

  /** Points at the record's value; false if it has none, which is handled here. */
  final boolean locate(RecordBatch in, int record, ColumnVector out, BatchProblems problems) {
    int field = in.firstField(record) + position;
    if (field < in.firstField(record + 1)) {
      if (plainText && !in.escaped(field)) {
        if (b != in.bytes()) { // storing a reference costs the collector's barrier each time
          b = in.bytes();
        }
        start = in.fieldStart(field);
        end = in.fieldEnd(field);
      } else {
        text.locate(in, field);
        b = text.bytes();
        start = text.start();
        end = text.end();
      }
      if (end - start > longestNull || !nulls.isNull(b, start, end, in.quoted(field))) {
        return true;
      }
    }
    return locateDefault(in, record, out, problems);
  }

  private boolean locateDefault(
      RecordBatch in, int record, ColumnVector out, BatchProblems problems) {
    if (defaultText != null && in.fault(record) == null) {
      b = defaultText;
      start = 0;
      end = defaultText.length;
      return true;
    }
    if (in.fault(record) == null) {
      nothing(record, out, problems);
    } else {
      out.setNull(record);
    }
    return false;
  }

  /** Notes that the record has no value for this column. */
  final void nothing(int record, ColumnVector out, BatchProblems problems) {
    out.setNull(record);
    if (column.notNull()) {
      problems.add(
          record,
          new Problem(RejectCode.NULL_VALUE, column.name(), "", "no value, but it is not null"));
    }
  }

  /** Whether a default replaces missing values. */
  final boolean hasDefault() {
    return defaultText != null;
  }

  /** Gives values that do not fit to the leftovers first. */
  final void leaving(Leftovers other) {
    leftovers = other;
  }

  /** The current value as it is in the record. */
  String exact() {
    return new String(b, start, end - start, StandardCharsets.UTF_8);
  }

  /** Notes that the current value is at fault; the sentence begins with the value. */
  final void reject(
      BatchProblems problems, ColumnVector out, int record, RejectCode code, String rest) {
    if (leftovers != null && leftovers.misfit(column, record, code, exact())) {
      out.setNull(record);
      return;
    }
    add(problems, record, code, shown(), rest);
  }

  /** Notes that a value is at fault; the sentence begins with the value. */
  final void reject(
      BatchProblems problems,
      ColumnVector out,
      int record,
      RejectCode code,
      String value,
      String rest) {
    if (leftovers != null && leftovers.misfit(column, record, code, value)) {
      out.setNull(record);
      return;
    }
    add(problems, record, code, value, rest);
  }

  /** Notes that a part of the current JSON value is at fault; the sentence begins with it. */
  final void rejectPart(
      BatchProblems problems,
      ColumnVector out,
      int record,
      RejectCode code,
      String part,
      String rest) {
    if (leftovers != null && leftovers.unlikeForm(column, record, exact())) {
      out.setNull(record);
      return;
    }
    add(problems, record, code, part, rest);
  }

  private void add(BatchProblems problems, int record, RejectCode code, String value, String rest) {
    problems.add(
        record,
        new Problem(
            code,
            column.name(),
            clip(value, Problem.VALUE_LIMIT),
            "'" + clip(value, 60) + "' " + rest));
  }

  /** The current value as text, shortened. */
  private String shown() {
    int length = Math.min(end - start, Problem.VALUE_LIMIT * 4);
    String value = new String(Arrays.copyOfRange(b, start, start + length), StandardCharsets.UTF_8);
    return clip(value, Problem.VALUE_LIMIT);
  }

  private static String clip(String value, int most) {
    if (value.codePointCount(0, value.length()) <= most) {
      return value;
    }
    return value.substring(0, value.offsetByCodePoints(0, most - 1)) + "\u2026";
  }

  /** The column this fills. */
  final FeedColumn column() {
    return column;
  }
}
