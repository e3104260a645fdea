package dev.dusky.lake.type;

import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.HexFormat;
import java.util.UUID;
import org.apache.iceberg.types.Type;
import org.apache.iceberg.types.Types;

/** Values as the library has them in rows. */
public final class LakeValues {

  private LakeValues() {}

  /**
   * Reads a value that a column has read already.
   *
   * @param text the value as {@link dev.dusky.core.vector.VectorText} writes it
   */
  public static Object parse(Type type, String text) {
    return switch (type.typeId()) {
      case BOOLEAN -> Boolean.valueOf(text);
      case INTEGER -> Integer.valueOf(text);
      case LONG -> Long.valueOf(text);
      case FLOAT -> Float.valueOf(text);
      case DOUBLE -> Double.valueOf(text);
      case DECIMAL -> new BigDecimal(text).setScale(((Types.DecimalType) type).scale());
      case DATE -> LocalDate.parse(text);
      case TIME -> LocalTime.parse(text);
      case TIMESTAMP -> {
        String iso = text.replace(' ', 'T');
        yield ((Types.TimestampType) type).shouldAdjustToUTC()
            ? OffsetDateTime.parse(iso)
            : LocalDateTime.parse(iso);
      }
      case UUID -> UUID.fromString(text);
      case BINARY -> ByteBuffer.wrap(HexFormat.of().parseHex(text));
      case STRING -> text;
      case STRUCT, LIST, MAP -> {
        byte[] json = text.getBytes(StandardCharsets.UTF_8);
        yield NestedValues.of(type).read(json, 0, json.length);
      }
      default -> throw new IllegalArgumentException("no column of a feed has the type " + type);
    };
  }
}
