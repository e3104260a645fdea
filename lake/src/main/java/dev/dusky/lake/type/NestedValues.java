package dev.dusky.lake.type;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.nested.NestedFault;
import dev.dusky.core.nested.NestedReader;
import dev.dusky.core.type.SqlType;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.iceberg.data.GenericRecord;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.types.Type;
import org.apache.iceberg.types.Types;

/** Values as {@link dev.dusky.core.nested.NestedReader} gives them, in the library's form. */
public final class NestedValues {

  private NestedValues() {}

  /**
   * Reads JSON into a value of a type of a table.
   *
   * @throws IllegalStateException if it is no such value; it was read before
   */
  static Object read(Type type, String json) {
    SqlType form = LakeTypes.sqlType(type).orElseThrow();
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    try {
      if (tree.read(bytes, 0, bytes.length)) {
        return of(type, NestedReader.of(form).read(tree));
      }
    } catch (NestedFault fault) {
      throw new IllegalStateException(
          "a value of %s is at fault: %s".formatted(form, fault), fault);
    }
    throw new IllegalStateException(
        "a value of %s is not JSON: %s".formatted(form, tree.failure()));
  }

  /** A value of a type of a table, which may have more members than the value. */
  public static Object of(Type type, Object value) {
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
