package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import java.util.ArrayList;
import java.util.List;

/**
 * Turns records into typed rows, column by column. A record with anything wrong becomes one reject
 * that tells all of it. Not safe for use by several threads.
 */
public final class Binder {

  private final Feed feed;
  private final FieldPlan plan;
  private final List<ColumnBinder> binders = new ArrayList<>();
  private final BatchProblems problems = new BatchProblems();
  private final boolean rejectShort;
  private final boolean rejectLong;
  private int kept;

  /** A binder for one file of the feed. */
  public Binder(Feed feed, FieldPlan plan) {
    this.feed = feed;
    this.plan = plan;
    DelimitedLayout layout = (DelimitedLayout) feed.layout();
    rejectShort = layout.shortRecords() == ShortRecords.REJECT;
    rejectLong = layout.longRecords() == LongRecords.REJECT;
    for (int i = 0; i < feed.columns().size(); i++) {
      binders.add(binder(feed.columns().get(i), plan.position(i)));
    }
  }

  private ColumnBinder binder(FeedColumn column, int position) {
    return switch (column.type().kind()) {
      case SMALLINT, INTEGER, BIGINT -> new NumberBinders.OfInteger(feed, column, position);
      case DECIMAL -> new NumberBinders.OfDecimal(feed, column, position);
      case REAL, DOUBLE -> new NumberBinders.OfFloat(feed, column, position);
      case CHAR, VARCHAR, TEXT -> new TextBinders.OfText(feed, column, position);
      case JSON -> new TextBinders.OfJson(feed, column, position);
      case BINARY -> new TextBinders.OfBinary(feed, column, position);
      case DATE, TIME, TIMESTAMP, TIMESTAMP_TZ ->
          new OtherBinders.OfTemporal(feed, column, position);
      case BOOLEAN -> new OtherBinders.OfBoolean(feed, column, position);
      case UUID -> new OtherBinders.OfUuid(feed, column, position);
    };
  }

  /** A batch with the right columns to be filled by {@link #bind}. */
  public RowBatch newBatch() {
    return new RowBatch(binders.stream().map(ColumnBinder::newVector).toList());
  }

  /** Binds all records of the batch. */
  public void bind(RecordBatch in, RowBatch out) {
    int records = in.records();
    out.reset(records, in.firstRecordNumber());
    problems.clear();
    checkFieldCounts(in);
    for (int i = 0; i < binders.size(); i++) {
      binders.get(i).bind(in, out.columns().get(i), problems);
    }
    if (problems.none() && !in.anyFault()) {
      for (int r = 0; r < records; r++) {
        out.select(r);
      }
      return;
    }
    for (int r = 0; r < records; r++) {
      RecordFault fault = in.fault(r);
      if (fault != null) {
        reject(in, r, out, List.of(new Problem(fault.code(), "", "", fault.message())));
      } else if (problems.of(r) != null) {
        reject(in, r, out, telling(problems.of(r)));
      } else {
        out.select(r);
      }
    }
  }

  private void checkFieldCounts(RecordBatch in) {
    int expected = plan.expected();
    for (int r = 0; r < in.records(); r++) {
      int count = in.fieldCount(r);
      if (count != expected && in.fault(r) == null) {
        if (count < expected && rejectShort) {
          problems.add(r, fieldCount(RejectCode.TOO_FEW_FIELDS, count));
        } else if (count > expected && rejectLong) {
          problems.add(r, fieldCount(RejectCode.TOO_MANY_FIELDS, count));
        }
      }
    }
  }

  /** With a wrong number of fields, what the columns found is only its echo. */
  private static List<Problem> telling(List<Problem> all) {
    RejectCode first = all.get(0).code();
    boolean wrongCount = first == RejectCode.TOO_FEW_FIELDS || first == RejectCode.TOO_MANY_FIELDS;
    return wrongCount ? all.subList(0, 1) : all;
  }

  private Problem fieldCount(RejectCode code, int count) {
    return new Problem(
        code, "", "", "the record has %d fields, expected %d".formatted(count, plan.expected()));
  }

  private void reject(RecordBatch in, int record, RowBatch out, List<Problem> all) {
    out.countReject();
    if (kept < feed.rejectCap()) {
      kept++;
      out.keepReject(
          new Reject(
              in.firstRecordNumber() + record,
              in.line(record),
              in.byteOffset(record),
              in.raw(record),
              in.rawCut(record),
              List.copyOf(all)));
    }
  }
}
