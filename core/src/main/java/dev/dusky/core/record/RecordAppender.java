package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.reject.RejectCode;
import java.nio.charset.StandardCharsets;
import java.util.function.IntFunction;

/**
 * Fills a batch record by record, for readers that do not find their records in place: each record
 * brings its raw bytes and its fields.
 */
public final class RecordAppender {

  private static final int MOST_RECORDS = 4096;
  private static final int RAW_KEPT = 64 << 10;

  private final int recordLimit;
  private RecordBatch batch;
  private int used;
  private int rawFrom;
  private int rawTo;
  private boolean cut;

  /** An appender for records up to that many bytes. */
  public RecordAppender(int recordLimit) {
    this.recordLimit = recordLimit;
  }

  /** Begins a batch. */
  public void begin(RecordBatch newBatch) {
    batch = newBatch;
    batch.reset(0, Transcoding.of(Encoding.UTF_8), 0);
    used = 0;
  }

  /** Whether the batch has enough. */
  public boolean full() {
    return used > batch.capacity() * 3 / 4 || batch.records() >= MOST_RECORDS;
  }

  /** Begins a record with its raw bytes. */
  public void record(byte[] raw, int from, int to) {
    cut = to - from > recordLimit;
    rawFrom = put(raw, from, cut ? Math.min(to, from + RAW_KEPT) : to);
    rawTo = used;
  }

  /** Begins a record over the limit of which only the beginning is there. */
  public void recordCut(byte[] head) {
    cut = true;
    rawFrom = put(head, 0, Math.min(head.length, RAW_KEPT));
    rawTo = used;
  }

  /** Adds a field of text. */
  public void field(String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    field(bytes, 0, bytes.length);
  }

  /** Adds a field of UTF-8. */
  public void field(byte[] text, int from, int to) {
    int at = put(text, from, to);
    batch.addField(at, used, true, false);
  }

  /** Adds a field without a value. */
  public void nothing() {
    batch.addField(0, 0, false, false);
  }

  /** Finishes the record. */
  public void end(long line, long offset) {
    if (cut) {
      String message = "the record has more than %,d bytes".formatted(recordLimit);
      fault(line, offset, new RecordFault(RejectCode.RECORD_TOO_LARGE, 0, message));
    } else {
      batch.finishRecord(rawFrom, rawTo, line);
      batch.placeLast(offset);
    }
  }

  /** Finishes the record as one with a fault. */
  public void fault(long line, long offset, RecordFault fault) {
    batch.finishFaulty(rawFrom, rawTo, line, fault);
    batch.placeLast(offset);
  }

  /** Says how messages name the place of a record. */
  public void places(IntFunction<String> places) {
    batch.places(places);
  }

  /** Makes the batch one of typed columns. */
  public static void typed(RecordBatch batch, TypedColumns columns, int rows) {
    batch.reset(0, Transcoding.of(Encoding.UTF_8), 0);
    batch.typed(columns, rows);
  }

  /** Says how messages name the place of a record of a typed batch. */
  public static void places(RecordBatch batch, IntFunction<String> places) {
    batch.places(places);
  }

  private int put(byte[] bytes, int from, int to) {
    int length = to - from;
    if (batch.capacity() - used < length) {
      batch.growBytes(Math.max(used + length, batch.capacity() * 2));
    }
    System.arraycopy(bytes, from, batch.bytes(), used, length);
    used += length;
    return used - length;
  }
}
