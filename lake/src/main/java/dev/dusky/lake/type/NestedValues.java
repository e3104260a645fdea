package dev.dusky.lake.type;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.nested.NestedFault;
import dev.dusky.core.nested.NestedReader;
import dev.dusky.core.type.SqlType;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.iceberg.data.GenericRecord;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.types.Type;
import org.apache.iceberg.types.Types;

/** Reads JSON values of a declared form into the library's values of a column. */
public final class NestedValues {

  private final Type type;
  private final NestedReader reader;
  private final JsonTree tree = new JsonTree();

  /**
   * Values of a column.
   *
   * @param type its type, which may have more members than the form
   * @param form the declared form
   */
  public NestedValues(Type type, SqlType form) {
    this.type = type;
    this.reader = NestedReader.of(form);
  }

  /** Values of a column as the table declares it. */
  static NestedValues of(Type type) {
    return new NestedValues(type, LakeTypes.sqlType(type).orElseThrow());
  }

  /**
   * Reads a value.
   *
   * @throws IllegalStateException if it is not of the form; it was read before
   */
  public Object read(byte[] json, int from, int to) {
    try {
      if (tree.read(json, from, to)) {
        return of(type, reader.read(tree));
      }
    } catch (NestedFault fault) {
      throw new IllegalStateException("a value that was read before is at fault", fault);
    }
    throw new IllegalStateException("a value that was read before is not JSON: " + tree.failure());
  }

  /** A value of a type of a table, which may have more members than the value. */
  private static Object of(Type type, Object value) {
    if (value == null) {
      return null;
    }
    return switch (type.typeId()) {
      case STRUCT -> record(type.asStructType(), (Map<?, ?>) value);
      case LIST -> {
        List<Object> elements = new ArrayList<>();
        for (Object element : (List<?>) value) {
          elements.add(of(type.asListType().elementType(), element));
        }
        yield elements;
      }
      case MAP -> {
        Map<Object, Object> entries = new LinkedHashMap<>();
        ((Map<?, ?>) value)
            .forEach((key, entry) -> entries.put(key, of(type.asMapType().valueType(), entry)));
        yield entries;
      }
      case LONG -> ((Number) value).longValue();
      case DOUBLE -> ((Number) value).doubleValue();
      case DECIMAL -> ((BigDecimal) value).setScale(((Types.DecimalType) type).scale());
      default -> value;
    };
  }

  private static Record record(Types.StructType struct, Map<?, ?> members) {
    Record record = GenericRecord.create(struct);
    List<Types.NestedField> fields = struct.fields();
    for (int i = 0; i < fields.size(); i++) {
      record.set(i, of(fields.get(i).type(), members.get(fields.get(i).name())));
    }
    return record;
  }
}
