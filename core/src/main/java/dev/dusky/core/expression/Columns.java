package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.util.ArrayList;
import java.util.List;

/**
 * The columns that expressions read: their names and types, and the vectors of the batch at hand.
 */
public final class Columns {

  private record Column(String name, TypeKind type) {}

  private final List<Column> columns = new ArrayList<>();
  private ColumnVector[] vectors = new ColumnVector[0];

  /** Adds a column; an earlier one of the same name goes before it. */
  public void add(String name, TypeKind type) {
    columns.add(new Column(name, type));
  }

  /** Sets the vectors, in the order of the columns. */
  public void vectors(ColumnVector[] current) {
    vectors = current;
  }

  /** The place of a column with that name, or -1. */
  public int find(String name) {
    for (int i = 0; i < columns.size(); i++) {
      if (columns.get(i).name().equals(name)) {
        return i;
      }
    }
    return -1;
  }

  List<String> names() {
    return columns.stream().map(Column::name).toList();
  }

  /** A step that reads a column. */
  Step step(int column) {
    TypeKind declared = columns.get(column).type();
    return switch (declared) {
      case BOOLEAN, SMALLINT, INTEGER, BIGINT, DATE, TIME, TIMESTAMP, TIMESTAMP_TZ ->
          new Step(
              declared,
              (s, row) ->
                  !vectors[column].isNull(row) && s.set(((LongVector) vectors[column]).get(row)));
      case REAL, DOUBLE ->
          new Step(
              declared,
              (s, row) ->
                  !vectors[column].isNull(row)
                      && s.setReal(((DoubleVector) vectors[column]).get(row)));
      case DECIMAL -> new Step(declared, (s, row) -> decimal(s, column, row));
      case UUID -> new Step(declared, (s, row) -> uuid(s, column, row));
      case CHAR, VARCHAR, TEXT -> new Step(TypeKind.TEXT, (s, row) -> bytes(s, column, row));
      case JSON, BINARY -> new Step(declared, (s, row) -> bytes(s, column, row));
    };
  }

  private boolean decimal(Step s, int column, int row) {
    DecimalVector vector = (DecimalVector) vectors[column];
    if (vector.isNull(row)) {
      return false;
    }
    return vector.isWide(row)
        ? s.setDecimal(vector.get(row))
        : s.setDecimal(vector.unscaled(row), vector.scale());
  }

  private boolean uuid(Step s, int column, int row) {
    UuidVector vector = (UuidVector) vectors[column];
    if (vector.isNull(row)) {
      return false;
    }
    s.low = vector.low(row);
    return s.set(vector.high(row));
  }

  private boolean bytes(Step s, int column, int row) {
    BytesVector vector = (BytesVector) vectors[column];
    if (vector.isNull(row)) {
      return false;
    }
    int start = vector.start(row);
    return s.setText(vector.heap(), start, start + vector.length(row));
  }
}
