package dev.dusky.core.mend;

import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReparser;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.StoredReject;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A rejected record as text, and where in it each of its problems is.
 *
 * @param text the record
 * @param marks a mark for each problem, in their order
 */
public record MarkedRecord(String text, List<Mark> marks) {

  /**
   * The place of a problem.
   *
   * @param problem the problem
   * @param from where the field starts in the text; the text's start if the field is not found
   * @param to where it ends, exclusive; the text's end if the field is not found
   */
  public record Mark(Problem problem, int from, int to) {}

  /** How messages name a place inside the record. */
  private static final Pattern PLACE = Pattern.compile("at byte (\\d{1,9}) of (?:it|the record)");

  /** Reads the reject's record again and marks it. */
  public static MarkedRecord of(Feed feed, StoredReject stored) {
    RecordReparser again =
        new RecordReparser(feed.layout(), stored.preamble(), FeedInputs.of(feed).request());
    RecordBatch batch = again.read(stored.latest(), stored.reject().context());
    int record = Math.min(stored.reject().piece(), Math.max(0, batch.records() - 1));
    boolean found = batch.records() > record && batch.utf8(record).length > 0;
    boolean element = feed.layout().kind().equals("xml");
    byte[] utf8 =
        found && !element ? batch.utf8(record) : text(stored).getBytes(StandardCharsets.UTF_8);
    String text = new String(utf8, StandardCharsets.UTF_8);
    List<Mark> marks = new ArrayList<>();
    for (Problem problem : stored.reject().problems()) {
      int[] place = found ? field(feed, stored, again, batch, record, problem) : null;
      marks.add(place == null ? search(problem, text) : mark(problem, utf8, place));
    }
    return new MarkedRecord(text, marks);
  }

  private static String text(StoredReject stored) {
    return new String(stored.latest(), StandardCharsets.UTF_8);
  }

  /** Start and end of the problem's field in the record's bytes, or null. */
  private static int[] field(
      Feed feed,
      StoredReject stored,
      RecordReparser again,
      RecordBatch batch,
      int record,
      Problem problem) {
    if (batch.fault(record) != null || problem.column().isEmpty()) {
      return null;
    }
    List<FeedColumn> fields = FeedInputs.of(feed).fields();
    try {
      FieldPlan plan = FieldPlan.of(feed, stored.file().path(), again.names());
      for (int i = 0; i < fields.size(); i++) {
        if (fields.get(i).name().equals(problem.column().split(", ")[0])
            && plan.position(i) < batch.fieldCount(record)) {
          int number = batch.firstField(record) + plan.position(i);
          int start = batch.startInRecord(record, number);
          return start < 0
              ? null
              : new int[] {start, start + batch.fieldEnd(number) - batch.fieldStart(number)};
        }
      }
    } catch (Failure e) {
      return null; // the feed has other columns by now
    }
    return null;
  }

  private static Mark mark(Problem problem, byte[] utf8, int[] place) {
    return new Mark(problem, length(utf8, place[0]), length(utf8, place[1]));
  }

  private static int length(byte[] utf8, int end) {
    return new String(utf8, 0, end, StandardCharsets.UTF_8).length();
  }

  private static Mark search(Problem problem, String text) {
    Matcher told = PLACE.matcher(problem.message());
    if (problem.column().isEmpty() && told.find()) {
      int from = problem.code() == RejectCode.BAD_JSON ? 1 : 0; // bytes of JSON count from 1
      byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
      int place = length(utf8, Math.min(utf8.length, Integer.parseInt(told.group(1)) - from));
      boolean open = problem.code() == RejectCode.BROKEN_QUOTE;
      return new Mark(problem, place, open ? text.length() : Math.min(text.length(), place + 1));
    }
    int at = problem.value().isEmpty() ? -1 : text.indexOf(problem.value());
    return at < 0
        ? new Mark(problem, 0, text.length())
        : new Mark(problem, at, at + problem.value().length());
  }
}
