package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.StringJoiner;
import java.util.function.IntFunction;

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
  private int[] fieldStart;
  private int[] fieldEnd;
  private int[] firstField;
  private int[] rawStart;
  private int[] rawEnd;
  private long[] line;
  private RecordFault[] faults = new RecordFault[0];
  private boolean anyFault;
  private long[] offset = new long[0];
  private boolean placed;
  private long baseOffset;
  private int firstByte;
  private Transcoding transcoding;
  private IntFunction<String> places;
  private TypedColumns typed;
  private byte[][] carried;
  private int offsetCursor;
  private long offsetAtCursor;

  /** A batch whose buffer initially holds that many bytes; it grows for larger records. */
  public RecordBatch(int capacity) {
    bytes = new byte[capacity + SLACK];
    int records = Math.max(1 << 7, Math.min(1 << 11, capacity >> 5));
    fieldStart = new int[records << 3];
    fieldEnd = new int[records << 3];
    firstField = new int[records];
    rawStart = new int[records];
    rawEnd = new int[records];
    line = new long[records];
  }

  // ---- filling, by the readers of this package

  /** Empties the batch; what precedes {@code first} in its bytes is not of this place. */
  void reset(long newBaseOffset, Transcoding newTranscoding, int first) {
    records = 0;
    fields = 0;
    firstField[0] = 0;
    if (anyFault) {
      Arrays.fill(faults, null);
      anyFault = false;
    }
    placed = false;
    places = null;
    typed = null;
    carried = null;
    baseOffset = newBaseOffset;
    transcoding = newTranscoding;
    firstByte = first;
    offsetCursor = first;
    offsetAtCursor = newBaseOffset;
  }

  int capacity() {
    return bytes.length - SLACK;
  }

  void growBytes(int capacity) {
    if (capacity <= capacity()) {
      return;
    }
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

  void finishFaulty(int start, int end, long startLine, RecordFault fault) {
    dropOpenFields();
    fault(records, fault);
    finishRecord(start, end, startLine);
  }

  void dropLastRecord() {
    records--;
    fields = firstField[records];
    if (anyFault && records < faults.length) {
      faults[records] = null;
    }
  }

  /** Gives the last finished record a place in its own file. */
  void placeLast(long fileOffset) {
    if (offset.length < rawStart.length) {
      offset = Arrays.copyOf(offset, rawStart.length);
    }
    offset[records - 1] = fileOffset;
    placed = true;
  }

  /** Says how messages name the place of a record that has no line. */
  void places(IntFunction<String> newPlaces) {
    places = newPlaces;
  }

  /** Makes this a batch of typed columns. */
  void typed(TypedColumns columns, int rows) {
    typed = columns;
    for (int r = 0; r < rows; r++) {
      finishRecord(0, 0, 0);
    }
  }

  /** Values that belong to all records of the batch, null where there is none. */
  void carried(byte[][] values) {
    carried = values;
  }

  byte[][] carried() {
    return carried;
  }

  /** Where the bytes of the last record end. */
  int usedBytes() {
    return records == 0 ? 0 : rawEnd[records - 1];
  }

  int rawStart(int record) {
    return rawStart[record];
  }

  int rawEnd(int record) {
    return rawEnd[record];
  }

  /** Writes bytes at a position, growing the buffer if need be; gives the position behind them. */
  int putBytes(int at, byte[] text) {
    if (capacity() < at + text.length) {
      growBytes(Math.max(at + text.length, capacity() * 2));
    }
    System.arraycopy(text, 0, bytes, at, text.length);
    return at + text.length;
  }

  /** Finishes a record that is, or is part of, a record of another batch. */
  void finishRecordAs(RecordBatch source, int record) {
    finishRecord(source.rawStart[record], source.rawEnd[record], source.line[record]);
    if (source.placed) {
      placeLast(source.offset[record]);
    }
  }

  void finishFaultyAs(RecordBatch source, int record, RecordFault fault) {
    dropOpenFields();
    fault(records, fault);
    finishRecordAs(source, record);
  }

  void copyFaulty(RecordBatch source, int record) {
    finishFaultyAs(source, record, source.fault(record));
  }

  /** Marks a record as faulty. */
  public void fault(int record, RecordFault fault) {
    if (faults.length < rawStart.length) {
      faults = Arrays.copyOf(faults, rawStart.length);
    }
    faults[record] = fault;
    anyFault = true;
  }

  /** Shares another batch's bytes, so that its records can be split into fields here. */
  void share(RecordBatch source) {
    reset(source.baseOffset, source.transcoding, source.firstByte);
    bytes = source.bytes;
    places = source.places;
    carried = source.carried;
  }

  /**
   * One field a record, in bytes that belong to another object; a length below 0 means no field.
   */
  public void overlay(byte[] source, int rows, int[] starts, int[] lengths) {
    reset(0, transcoding, 0);
    bytes = source;
    for (int r = 0; r < rows; r++) {
      boolean there = lengths[r] >= 0;
      addField(there ? starts[r] : 0, there ? starts[r] + lengths[r] : 0, there, false);
      finishRecord(0, 0, 0);
    }
  }

  // ---- reading

  /** The typed columns, or null if the records are split into fields of text. */
  public TypedColumns typed() {
    return typed;
  }

  /** How messages name the record's place if it has no line, or an empty text. */
  public String place(int record) {
    return places == null ? "" : places.apply(record);
  }

  /** The bytes that all offsets refer to. */
  public byte[] bytes() {
    return bytes;
  }

  /** How many records the batch holds. */
  public int records() {
    return records;
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

  /** The problem of the record, or null if it was split into fields. */
  public RecordFault fault(int record) {
    return anyFault && record < faults.length ? faults[record] : null;
  }

  /** The physical line on which the record starts, from 1. */
  public long line(int record) {
    return line[record];
  }

  /** Whether the record's raw bytes are only the beginning of it. */
  public boolean rawCut(int record) {
    RecordFault fault = fault(record);
    return fault != null && fault.code() == RejectCode.RECORD_TOO_LARGE;
  }

  /** The record's bytes as they are in the file, without the line end. */
  public byte[] raw(int record) {
    if (typed != null) {
      return typed.raw().apply(record);
    }
    return transcoding.original(bytes, rawStart[record], rawEnd[record]);
  }

  /** The record's bytes as UTF-8, without the line end. */
  public byte[] utf8(int record) {
    return Arrays.copyOfRange(bytes, rawStart[record], rawEnd[record]);
  }

  /** Where a field starts in {@link #utf8}, or -1 if its text is not there. */
  public int startInRecord(int record, int field) {
    int start = fieldStart[field];
    boolean inside = start >= rawStart[record] && fieldEnd(field) <= rawEnd[record];
    return inside && fieldEnd(field) > 0 ? start - rawStart[record] : -1;
  }

  /** Which row of its record this is, from 0, where one record gives several rows. */
  public int piece(int record) {
    int piece = 0;
    while (typed == null
        && rawStart[record] < rawEnd[record]
        && piece < record
        && rawStart[record - piece - 1] == rawStart[record]) {
      piece++;
    }
    return piece;
  }

  /** The values carried onto the batch's records as a JSON array, or no bytes if there are none. */
  public byte[] context(int record) {
    if (carried == null) {
      return Reject.NO_CONTEXT;
    }
    StringJoiner values = new StringJoiner(",", "[", "]");
    for (byte[] value : carried) {
      values.add(value == null ? "null" : new String(value, StandardCharsets.UTF_8));
    }
    return values.toString().getBytes(StandardCharsets.UTF_8);
  }

  /** Where the record starts in the file's uncompressed bytes. Ask in the order of records. */
  public long byteOffset(int record) {
    if (placed || typed != null) {
      return placed ? offset[record] : 0;
    }
    int start = rawStart[record];
    if (start < offsetCursor) {
      offsetCursor = firstByte;
      offsetAtCursor = baseOffset;
    }
    offsetAtCursor += transcoding.originalLength(bytes, offsetCursor, start);
    offsetCursor = start;
    return offsetAtCursor;
  }
}
