package dev.dusky.warehouses.postgres;

import dev.dusky.core.table.TableColumn;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;

/** Encodes one column's values in PostgreSQL's binary COPY format. Hot. */
@FunctionalInterface
interface CopyField {

  /** Days from 1970-01-01 to 2000-01-01, where PostgreSQL counts from. */
  int EPOCH_DAYS = 10_957;

  /** The same in microseconds. */
  long EPOCH_MICROS = EPOCH_DAYS * 86_400_000_000L;

  /** Writes the row's value, which is not null, with its length before it. */
  void put(CopyBuffer out, ColumnVector vector, int row);

  /** The encoder for a column of the table, whose type decides the form. */
  static CopyField of(TableColumn column) {
    CopyNumeric numeric = new CopyNumeric();
    return switch (column.type().orElseThrow().kind()) {
      case BOOLEAN ->
          (out, v, r) -> {
            out.putInt(1);
            out.putByte((int) ((LongVector) v).get(r));
          };
      case SMALLINT ->
          (out, v, r) -> {
            out.putInt(2);
            out.putShort((int) ((LongVector) v).get(r));
          };
      case INTEGER ->
          (out, v, r) -> {
            out.putInt(4);
            out.putInt((int) ((LongVector) v).get(r));
          };
      case BIGINT, TIME -> (out, v, r) -> out.putLongField(((LongVector) v).get(r));
      case REAL ->
          (out, v, r) -> {
            out.putInt(4);
            out.putInt(Float.floatToIntBits((float) ((DoubleVector) v).get(r)));
          };
      case DOUBLE ->
          (out, v, r) -> out.putLongField(Double.doubleToLongBits(((DoubleVector) v).get(r)));
      case DECIMAL ->
          (out, v, r) -> {
            DecimalVector decimals = (DecimalVector) v;
            if (decimals.isWide(r)) {
              numeric.put(out, decimals.get(r));
            } else {
              numeric.put(out, decimals.unscaled(r), decimals.scale());
            }
          };
      case CHAR, VARCHAR, TEXT, BINARY ->
          (out, v, r) -> {
            BytesVector bytes = (BytesVector) v;
            out.putField(bytes.heap(), bytes.start(r), bytes.length(r));
          };
      case JSON -> column.typeText().equals("jsonb") ? CopyField::putJsonb : CopyField::putJson;
      case DATE ->
          (out, v, r) -> {
            out.putInt(4);
            out.putInt((int) (((LongVector) v).get(r) - EPOCH_DAYS));
          };
      case TIMESTAMP, TIMESTAMP_TZ ->
          (out, v, r) -> out.putLongField(((LongVector) v).get(r) - EPOCH_MICROS);
      case UUID ->
          (out, v, r) -> {
            UuidVector uuids = (UuidVector) v;
            out.putInt(16);
            out.putLong(uuids.high(r));
            out.putLong(uuids.low(r));
          };
    };
  }

  private static void putJson(CopyBuffer out, ColumnVector vector, int row) {
    BytesVector bytes = (BytesVector) vector;
    out.putField(bytes.heap(), bytes.start(row), bytes.length(row));
  }

  /** jsonb has a version byte before the text. */
  private static void putJsonb(CopyBuffer out, ColumnVector vector, int row) {
    BytesVector bytes = (BytesVector) vector;
    byte[] text = bytes.bytes(row);
    out.putInt(text.length + 1);
    out.putByte(1);
    for (byte b : text) {
      out.putByte(b);
    }
  }
}
