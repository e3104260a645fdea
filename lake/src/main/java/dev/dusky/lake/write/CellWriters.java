package dev.dusky.lake.write;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.apache.iceberg.Schema;
import org.apache.iceberg.parquet.ParquetValueWriter;
import org.apache.iceberg.parquet.ParquetValueWriters.PrimitiveWriter;
import org.apache.iceberg.parquet.TripleWriter;
import org.apache.iceberg.types.Types;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnWriteStore;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;

/**
 * Writes the values of typed columns into Parquet's columns, one writer for each column of the
 * file, without an object for a row or a value of fixed size. Hot.
 */
final class CellWriters implements ParquetValueWriter<RowAt> {

  private static final BigInteger[] POWERS = new BigInteger[39];
  private static final long[] SMALL_POWERS = new long[19];

  static {
    for (int i = 0; i < POWERS.length; i++) {
      POWERS[i] = BigInteger.TEN.pow(i);
    }
    for (int i = 0; i < SMALL_POWERS.length; i++) {
      SMALL_POWERS[i] = POWERS[i].longValueExact();
    }
  }

  private final List<ParquetValueWriter<RowAt>> cells = new ArrayList<>();

  /** Writers of a file of that form for the rows of a feed, in a table with that schema. */
  CellWriters(MessageType form, Schema schema, Feed feed) {
    for (org.apache.parquet.schema.Type column : form.getFields()) {
      String name = column.getName();
      cells.add(
          column.isPrimitive()
              ? cell(form.getColumnDescription(new String[] {name}), feed)
              : nested(form, schema.findField(name), feed));
    }
  }

  private static NestedCells nested(MessageType form, Types.NestedField field, Feed feed) {
    Optional<FeedColumn> column = feed.column(field.name());
    return new NestedCells(
        form, field, column.map(FeedColumn::type), column.map(feed.columns()::indexOf).orElse(-1));
  }

  private static Cell cell(ColumnDescriptor descriptor, Feed feed) {
    String name = descriptor.getPath()[0];
    switch (name) {
      case Provenance.LOAD -> {
        return new Load(descriptor);
      }
      case Provenance.FILE -> {
        return new File(descriptor);
      }
      case Provenance.ROW -> {
        return new Number(descriptor);
      }
      default -> {
        return feed.column(name)
            .map(column -> cell(descriptor, feed.columns().indexOf(column), column.type().kind()))
            .orElseGet(() -> new Absent(descriptor));
      }
    }
  }

  private static Cell cell(ColumnDescriptor descriptor, int column, TypeKind kind) {
    PrimitiveType.PrimitiveTypeName stored = descriptor.getPrimitiveType().getPrimitiveTypeName();
    return switch (kind) {
      case BOOLEAN -> new Booleans(descriptor, column);
      case SMALLINT, INTEGER, BIGINT, DATE, TIME, TIMESTAMP, TIMESTAMP_TZ ->
          stored == PrimitiveType.PrimitiveTypeName.INT32
              ? new Integers(descriptor, column)
              : new Longs(descriptor, column);
      case REAL, DOUBLE ->
          stored == PrimitiveType.PrimitiveTypeName.FLOAT
              ? new Floats(descriptor, column)
              : new Doubles(descriptor, column);
      case DECIMAL -> new Decimals(descriptor, column);
      case CHAR, VARCHAR, TEXT, JSON, BINARY -> new Bytes(descriptor, column);
      case UUID -> new Uuids(descriptor, column);
    };
  }

  @Override
  public void write(int repetition, RowAt at) {
    for (ParquetValueWriter<RowAt> cell : cells) {
      cell.write(repetition, at);
    }
  }

  @Override
  public List<TripleWriter<?>> columns() {
    List<TripleWriter<?>> all = new ArrayList<>();
    cells.forEach(cell -> all.addAll(cell.columns()));
    return all;
  }

  @Override
  public void setColumnStore(ColumnWriteStore store) {
    cells.forEach(cell -> cell.setColumnStore(store));
  }

  /** One column of the file. */
  private abstract static class Cell extends PrimitiveWriter<RowAt> {
    Cell(ColumnDescriptor descriptor) {
      super(descriptor);
    }
  }

  private static final class Load extends Cell {
    Load(ColumnDescriptor descriptor) {
      super(descriptor);
    }

    @Override
    public void write(int repetition, RowAt at) {
      column.writeLong(repetition, at.load);
    }
  }

  private static final class File extends Cell {
    File(ColumnDescriptor descriptor) {
      super(descriptor);
    }

    @Override
    public void write(int repetition, RowAt at) {
      column.writeLong(repetition, at.file);
    }
  }

  private static final class Number extends Cell {
    Number(ColumnDescriptor descriptor) {
      super(descriptor);
    }

    @Override
    public void write(int repetition, RowAt at) {
      column.writeLong(repetition, at.number());
    }
  }

  /** A column of the table that the feed does not fill. */
  private static final class Absent extends Cell {
    Absent(ColumnDescriptor descriptor) {
      super(descriptor);
    }

    @Override
    public void write(int repetition, RowAt at) {
      column.writeNull(repetition, 0);
    }
  }

  /** A column that the feed fills. */
  private abstract static class Filled extends Cell {
    private final int from;

    Filled(ColumnDescriptor descriptor, int from) {
      super(descriptor);
      this.from = from;
    }

    @Override
    public final void write(int repetition, RowAt at) {
      ColumnVector vector = at.columns.get(from);
      if (vector.isNull(at.row)) {
        column.writeNull(repetition, 0);
      } else {
        put(repetition, vector, at.row);
      }
    }

    abstract void put(int repetition, ColumnVector vector, int row);
  }

  private static final class Booleans extends Filled {
    Booleans(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      column.writeBoolean(repetition, ((LongVector) vector).get(row) != 0);
    }
  }

  private static final class Integers extends Filled {
    Integers(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      column.writeInteger(repetition, (int) ((LongVector) vector).get(row));
    }
  }

  private static final class Longs extends Filled {
    Longs(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      column.writeLong(repetition, ((LongVector) vector).get(row));
    }
  }

  private static final class Floats extends Filled {
    Floats(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      column.writeFloat(repetition, (float) ((DoubleVector) vector).get(row));
    }
  }

  private static final class Doubles extends Filled {
    Doubles(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      column.writeDouble(repetition, ((DoubleVector) vector).get(row));
    }
  }

  /** Text, JSON and binary; the heap is reused, so the library copies what it keeps. */
  private static final class Bytes extends Filled {
    Bytes(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      BytesVector bytes = (BytesVector) vector;
      column.writeBinary(
          repetition,
          Binary.fromReusedByteArray(bytes.heap(), bytes.start(row), bytes.length(row)));
    }
  }

  private static final class Uuids extends Filled {
    private final byte[] bytes = new byte[16];

    Uuids(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      UuidVector uuids = (UuidVector) vector;
      put(0, uuids.high(row));
      put(8, uuids.low(row));
      column.writeBinary(repetition, Binary.fromReusedByteArray(bytes));
    }

    private void put(int at, long value) {
      for (int i = 0; i < 8; i++) {
        bytes[at + i] = (byte) (value >>> (56 - 8 * i));
      }
    }
  }

  /** Decimals in the column's scale: whole numbers of 32 or 64 bits, or bytes of fixed length. */
  private static final class Decimals extends Filled {
    private final int scale;
    private final PrimitiveType.PrimitiveTypeName stored;
    private final byte[] bytes;

    Decimals(ColumnDescriptor descriptor, int from) {
      super(descriptor, from);
      PrimitiveType type = descriptor.getPrimitiveType();
      this.scale =
          ((org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation)
                  type.getLogicalTypeAnnotation())
              .getScale();
      this.stored = type.getPrimitiveTypeName();
      this.bytes = new byte[type.getTypeLength()];
    }

    @Override
    void put(int repetition, ColumnVector vector, int row) {
      DecimalVector decimals = (DecimalVector) vector;
      int up = scale - decimals.scale();
      if (stored == PrimitiveType.PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY) {
        BigInteger unscaled =
            decimals.isWide(row)
                ? decimals.get(row).unscaledValue()
                : BigInteger.valueOf(decimals.unscaled(row));
        fixed(repetition, unscaled.multiply(POWERS[up]));
        return;
      }
      long unscaled =
          decimals.isWide(row)
              ? exact(decimals.get(row))
              : decimals.unscaled(row) * SMALL_POWERS[up];
      if (stored == PrimitiveType.PrimitiveTypeName.INT32) {
        column.writeInteger(repetition, (int) unscaled);
      } else {
        column.writeLong(repetition, unscaled);
      }
    }

    private long exact(BigDecimal value) {
      return value.setScale(scale).unscaledValue().longValueExact();
    }

    private void fixed(int repetition, BigInteger unscaled) {
      byte[] shortest = unscaled.toByteArray();
      int left = bytes.length - shortest.length;
      Arrays.fill(bytes, 0, left, (byte) (unscaled.signum() < 0 ? -1 : 0));
      System.arraycopy(shortest, 0, bytes, left, shortest.length);
      column.writeBinary(repetition, Binary.fromReusedByteArray(bytes));
    }
  }
}
