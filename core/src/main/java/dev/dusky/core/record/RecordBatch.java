package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import java.util.Arrays;

/**
 * A run of records: their bytes and, for each field, where it starts and ends. Nothing is copied
 * and no text is made. A batch is reused; what it gave is valid until the next {@link
 * RecordReader#read}.
 *
 * <p>Field {@code c} of record {@code r} is number {@code firstField(r) + c}; the record has {@code
 * fieldCount(r)} of them.
 */
public final class RecordBatch {

  /** Bytes kept free behind the data so that a block of 64 can be read from any position. */
  static final int SLACK = 72;

  static final int QUOTED = 1;
  static final int ESCAPED = 2;

  private byte[] bytes;
  private int records;
  private int fields;
  private int[] fieldStart = new int[1 << 14];
  private int[] fieldEnd = new int[1 << 14];
  private int[] firstField = new int[1 << 11];
  private int[] rawStart = new int[1 << 11];
  private int[] rawEnd = new int[1 << 11];
  private long[] line = new long[1 << 11];
  private RecordFault[] faults = new RecordFault[0];
  private boolean anyFault;
  private boolean rawCut;
  private long firstRecordNumber;
  private long baseOffset;
  private Transcoding transcoding;
  private int offsetCursor;
  private long offsetAtCursor;

  /** A batch whose buffer holds so many bytes at first; it grows for larger records. */
  public RecordBatch(int capacity) {
    bytes = new byte[capacity + SLACK];
  }

  // ---- filling, by the readers of this package

  void reset(long newFirstRecordNumber, long newBaseOffset, Transcoding newTranscoding) {
    records = 0;
    fields = 0;
    firstField[0] = 0;
    if (anyFault) {
      Arrays.fill(faults, null);
      anyFault = false;
    }
    rawCut = false;
    firstRecordNumber = newFirstRecordNumber;
    baseOffset = newBaseOffset;
    transcoding = newTranscoding;
    offsetCursor = 0;
    offsetAtCursor = newBaseOffset;
  }

  int capacity() {
    return bytes.length - SLACK;
  }

  void growBytes(int capacity) {
    bytes = Arrays.copyOf(bytes, capacity + SLACK);
  }

  void addField(int start, int end, boolean quoted, boolean escaped) {
    if (fields == fieldStart.length) {
      fieldStart = Arrays.copyOf(fieldStart, fields * 2);
      fieldEnd = Arrays.copyOf(fieldEnd, fields * 2);
    }
    fieldStart[fields] = start;
    fieldEnd[fields] = end << 2 | (quoted ? QUOTED : 0) | (escaped ? ESCAPED : 0);
    fields++;
  }

  /** The arrays that fields are written to, for {@link PlainRecords}. */
  int[] fieldStarts() {
    return fieldStart;
  }

  int[] fieldEnds() {
    return fieldEnd;
  }

  int fields() {
    return fields;
  }

  /** Finishes a record whose fields were written to the arrays up to that number. */
  void finishPlain(int start, int end, long startLine, int fieldsNow) {
    fields = fieldsNow;
    finishRecord(start, end, startLine);
  }

  /** The number of fields added since the last finished record. */
  int openFields() {
    return fields - firstField[records];
  }

  /** Whether the last field added is empty and was not quoted. */
  boolean lastFieldBlank() {
    int last = fields - 1;
    return fieldStart[last] == fieldEnd[last] >>> 2 && (fieldEnd[last] & QUOTED) == 0;
  }

  void dropLastField() {
    fields--;
  }

  void dropOpenFields() {
    fields = firstField[records];
  }

  void finishRecord(int start, int end, long startLine) {
    rawStart[records] = start;
    rawEnd[records] = end;
    line[records] = startLine;
    records++;
    if (records == rawStart.length) {
      int size = records * 2;
      rawStart = Arrays.copyOf(rawStart, size);
      rawEnd = Arrays.copyOf(rawEnd, size);
      line = Arrays.copyOf(line, size);
      firstField = Arrays.copyOf(firstField, size);
    }
    firstField[records] = fields;
  }

  void finishFaulty(int start, int end, long startLine, RecordFault fault, boolean cut) {
    dropOpenFields();
    if (faults.length < rawStart.length) {
      faults = Arrays.copyOf(faults, rawStart.length);
    }
    faults[records] = fault;
    anyFault = true;
    rawCut |= cut;
    finishRecord(start, end, startLine);
  }

  // ---- reading

  /** The bytes that all offsets refer to. */
  public byte[] bytes() {
    return bytes;
  }

  /** How many records the batch holds. */
  public int records() {
    return records;
  }

  /** The number of the first record in the file, from 1. */
  public long firstRecordNumber() {
    return firstRecordNumber;
  }

  /** The number of the record's first field in this batch; also of the one behind the last. */
  public int firstField(int record) {
    return firstField[record];
  }

  /** How many fields the record has. */
  public int fieldCount(int record) {
    return firstField[record + 1] - firstField[record];
  }

  /** Where the field starts. */
  public int fieldStart(int field) {
    return fieldStart[field];
  }

  /** Where the field ends, exclusive. */
  public int fieldEnd(int field) {
    return fieldEnd[field] >>> 2;
  }

  /** Whether the field stood in quotes. */
  public boolean quoted(int field) {
    return (fieldEnd[field] & QUOTED) != 0;
  }

  /** Whether the field has doubled quotes or escape characters to be resolved. */
  public boolean escaped(int field) {
    return (fieldEnd[field] & ESCAPED) != 0;
  }

  /** Whether any record of the batch is at fault. */
  public boolean anyFault() {
    return anyFault;
  }

  /** What is wrong with the record, or null if it was split into fields. */
  public RecordFault fault(int record) {
    return anyFault && record < faults.length ? faults[record] : null;
  }

  /** The physical line on which the record starts, from 1. */
  public long line(int record) {
    return line[record];
  }

  /** Whether the record's raw bytes are only the beginning of it. */
  public boolean rawCut(int record) {
    return rawCut && record == records - 1;
  }

  /** The record's bytes as they stand in the file, without the line end. */
  public byte[] raw(int record) {
    return transcoding.original(bytes, rawStart[record], rawEnd[record]);
  }

  /** Where the record starts in the file's uncompressed bytes. Ask in the order of records. */
  public long byteOffset(int record) {
    int start = rawStart[record];
    if (start < offsetCursor) {
      offsetCursor = 0;
      offsetAtCursor = baseOffset;
    }
    offsetAtCursor += transcoding.originalLength(bytes, offsetCursor, start);
    offsetCursor = start;
    return offsetAtCursor;
  }
}
