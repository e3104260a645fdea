package dev.dusky.core.bind;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.repeat.RowHash;
import dev.dusky.core.vector.ColumnVector;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Turns records into typed rows, column by column: fields first, then what expressions derive,
 * choose and check. A record with anything wrong becomes one reject with all of its problems. Not
 * safe for use by several threads.
 */
public final class Binder {

  /** A field that lies behind the end of every record: its default is taken. */
  private static final int NOWHERE = 1 << 30;

  private final Feed feed;
  private final FieldPlan plan;
  private final List<ColumnBinder> binders = new ArrayList<>();
  private final List<ColumnBinder> hidden = new ArrayList<>();
  private final int[] positions;
  private final boolean[] numbers;
  private final TypedColumnBinder typed;
  private final Expressions expressions;
  private final Leftovers leftovers;
  private RowHash hash;
  private final BatchProblems problems = new BatchProblems();
  private final boolean rejectShort;
  private final boolean rejectLong;
  private boolean[] left = new boolean[0];
  private int kept;

  /**
   * A binder for one file of the feed.
   *
   * @param typed whether its records come as typed columns
   */
  public Binder(Feed feed, FieldPlan plan, FileFacts facts, boolean typed) {
    this.feed = feed;
    this.plan = plan;
    DelimitedLayout delimited = feed.layout() instanceof DelimitedLayout d ? d : null;
    rejectShort = delimited != null && delimited.shortRecords() == ShortRecords.REJECT;
    // Cells beside the columns of a workbook would be lost without a word.
    rejectLong =
        delimited != null && delimited.longRecords() == LongRecords.REJECT
            || feed.layout() instanceof WorkbookLayout;
    this.typed = typed ? new TypedColumnBinder() : null;
    FeedInputs inputs = FeedInputs.of(feed);
    leftovers = Leftovers.of(feed);
    int count = feed.columns().size();
    positions = new int[count + inputs.hidden().size()];
    numbers = new boolean[count];
    int field = 0;
    for (int i = 0; i < positions.length; i++) {
      FeedColumn column = i < count ? feed.columns().get(i) : inputs.hidden().get(i - count);
      boolean derived = column.value().isPresent();
      Feed as = feed;
      positions[i] = NOWHERE;
      if (derived) {
        as = feed.withLayout(DelimitedLayout.plain("derived"));
      } else if (column.from() instanceof FieldSource.OfFile of) {
        column = facts.get(of.fact()).map(column::withDefault).orElse(column);
        if (i < count && of.fact().equals(FileFacts.RECORD_NUMBER)) {
          numbers[i] = true;
          column = column.withDefault("0"); // set once the batch knows its place in the file
        }
      } else if (!(column.from() instanceof FieldSource.Absent
          || column.from() instanceof FieldSource.Leftovers)) {
        positions[i] = plan.position(field++);
      }
      boolean first = derived || typed && positions[i] != NOWHERE;
      ColumnBinder binder = binder(as, column, first ? 0 : positions[i]);
      if (i < count && leftovers != null && leftovers.watches(column)) {
        binder.leaving(leftovers);
      }
      (i < count ? binders : hidden).add(binder);
    }
    Expressions all = new Expressions(feed, inputs, binders);
    expressions = all.none() ? null : all;
  }

  private static ColumnBinder binder(Feed feed, FeedColumn column, int position) {
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
    return new RowBatch(
        binders.stream().map(ColumnBinder::newVector).toList(),
        hidden.stream().map(ColumnBinder::newVector).toList(),
        numbers);
  }

  /** Binds all records of the batch. */
  public void bind(RecordBatch in, RowBatch out) {
    int records = in.records();
    out.reset(records);
    problems.clear();
    if (leftovers != null) {
      leftovers.clear();
    }
    if (plan.counted() && in.typed() == null) {
      checkFieldCounts(in);
    }
    for (int i = 0; i < binders.size(); i++) {
      FeedColumn column = feed.columns().get(i);
      boolean kept = leftovers != null && column.from() instanceof FieldSource.Leftovers;
      if (column.value().isEmpty() && !kept) {
        bind(binders.get(i), positions[i], in, out.columns().get(i));
      }
    }
    for (int i = 0; i < hidden.size(); i++) {
      bind(hidden.get(i), positions[binders.size() + i], in, out.hidden().get(i));
    }
    if (leftovers != null) {
      leftovers.keep(in, out);
    }
    if (expressions != null) {
      if (left.length < records) {
        left = new boolean[records + records / 4];
      }
      Arrays.fill(left, 0, records, false);
      expressions.run(in, out, problems, left);
    } else if (problems.none() && !in.anyFault()) {
      for (int r = 0; r < records; r++) {
        out.select(r);
      }
      hash(out);
      return;
    }
    for (int r = 0; r < records; r++) {
      RecordFault fault = in.fault(r);
      if (fault != null) {
        reject(in, r, out, List.of(new Problem(fault.code(), "", "", fault.message())));
      } else if (expressions != null && left[r]) {
        out.countFiltered();
      } else if (problems.of(r) != null) {
        reject(in, r, out, telling(problems.of(r)));
      } else {
        out.select(r);
      }
    }
    hash(out);
  }

  /** Computes the row hashes by which repeats are detected. */
  private void hash(RowBatch out) {
    if (hash == null) {
      return;
    }
    for (int i = 0; i < out.count(); i++) {
      int row = out.selected(i);
      if (hash.hash(out.columns(), row)) {
        out.setHash(row, hash.high(), hash.low());
      } else {
        out.setHash(row, 0, 0);
      }
    }
  }

  /** The same binder working out the hash of each good row. */
  public Binder hashing() {
    hash = feed.policies().repeats().unseen() ? null : HashedColumns.hash(feed);
    return this;
  }

  private void bind(ColumnBinder binder, int position, RecordBatch in, ColumnVector out) {
    if (in.typed() != null && position != NOWHERE) {
      typed.bind(binder, in, position, out, problems);
    } else {
      binder.bind(in, out, problems);
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
    // Plain concatenation: there may be millions of them.
    String message = "the record has " + count + " fields, expected " + plan.expected();
    return new Problem(code, "", "", message);
  }

  private void reject(RecordBatch in, int record, RowBatch out, List<Problem> all) {
    out.countReject();
    if (kept < feed.rejectCap()) {
      kept++;
      out.keepReject(
          new Reject(
              1L + record,
              in.line(record),
              in.byteOffset(record),
              in.place(record),
              in.raw(record),
              in.rawCut(record),
              in.piece(record),
              in.context(record),
              List.copyOf(all)));
    }
  }
}
