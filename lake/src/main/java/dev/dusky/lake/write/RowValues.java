package dev.dusky.lake.write;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import java.nio.ByteBuffer;
import java.util.List;
import org.apache.iceberg.Schema;
import org.apache.iceberg.StructLike;
import org.apache.iceberg.types.Type;
import org.apache.iceberg.types.Types;

/** A row of a batch by the positions of a table's columns, for its partition. */
final class RowValues implements StructLike {

  private final RowAt at;
  private final List<Types.NestedField> fields;
  private final int[] columns;
  private final TypeKind[] kinds;

  RowValues(Schema schema, Feed feed, RowAt at) {
    this.at = at;
    this.fields = schema.columns();
    this.columns = new int[fields.size()];
    this.kinds = new TypeKind[fields.size()];
    for (int i = 0; i < columns.length; i++) {
      int column = feed.column(fields.get(i).name()).map(feed.columns()::indexOf).orElse(-1);
      columns[i] = column;
      kinds[i] = column < 0 ? null : feed.columns().get(column).type().kind();
    }
  }

  @Override
  public int size() {
    return columns.length;
  }

  /** The value in the library's inner form; null for columns that the feed does not fill. */
  @Override
  public <T> T get(int position, Class<T> form) {
    if (columns[position] < 0) {
      return null;
    }
    ColumnVector vector = at.columns.get(columns[position]);
    return vector.isNull(at.row)
        ? null
        : form.cast(value(kinds[position], vector, fields.get(position).type()));
  }

  private Object value(TypeKind kind, ColumnVector vector, Type stored) {
    return switch (kind) {
      case BOOLEAN -> ((LongVector) vector).get(at.row) != 0;
      case SMALLINT, INTEGER, BIGINT, DATE, TIME, TIMESTAMP, TIMESTAMP_TZ -> {
        long value = ((LongVector) vector).get(at.row);
        boolean small =
            stored.typeId() == Type.TypeID.INTEGER || stored.typeId() == Type.TypeID.DATE;
        yield small ? (Object) (int) value : (Object) value;
      }
      case REAL, DOUBLE -> ((DoubleVector) vector).get(at.row);
      case DECIMAL ->
          ((DecimalVector) vector).get(at.row).setScale(((Types.DecimalType) stored).scale());
      case CHAR, VARCHAR, TEXT, JSON -> ((BytesVector) vector).text(at.row);
      case BINARY -> ByteBuffer.wrap(((BytesVector) vector).bytes(at.row));
      case UUID -> ((UuidVector) vector).get(at.row);
    };
  }

  /** About what the row's values take in memory. */
  int bytes() {
    int bytes = 0;
    for (ColumnVector vector : at.columns) {
      bytes +=
          vector instanceof BytesVector texts && !vector.isNull(at.row) ? texts.length(at.row) : 8;
    }
    return bytes;
  }

  @Override
  public <T> void set(int position, T value) {
    throw new UnsupportedOperationException("rows are only read");
  }
}
