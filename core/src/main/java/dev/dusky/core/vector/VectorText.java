package dev.dusky.core.vector;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.IsoForm;
import dev.dusky.core.type.SqlType;
import java.math.BigDecimal;
import java.util.HexFormat;

/** Values of typed columns as the text that a file of text would have, and as JSON. */
public final class VectorText {

  private VectorText() {}

  /** The row's value, which is not null, as text. */
  public static String text(SqlType type, ColumnVector vector, int row) {
    return switch (type.kind()) {
      case SMALLINT, INTEGER, BIGINT -> Long.toString(((LongVector) vector).get(row));
      case BOOLEAN -> ((LongVector) vector).get(row) == 0 ? "false" : "true";
      case DATE -> IsoForm.date(((LongVector) vector).get(row));
      case TIME -> IsoForm.time(((LongVector) vector).get(row));
      case TIMESTAMP -> IsoForm.timestamp(((LongVector) vector).get(row));
      case TIMESTAMP_TZ -> IsoForm.timestamp(((LongVector) vector).get(row)) + "Z";
      case REAL -> plain(Float.toString((float) ((DoubleVector) vector).get(row)));
      case DOUBLE -> plain(Double.toString(((DoubleVector) vector).get(row)));
      case DECIMAL -> ((DecimalVector) vector).get(row).toPlainString();
      case UUID -> ((UuidVector) vector).get(row).toString();
      case BINARY -> HexFormat.of().formatHex(((BytesVector) vector).bytes(row));
      default -> ((BytesVector) vector).text(row);
    };
  }

  /** The row's value as JSON. */
  public static String json(SqlType type, ColumnVector vector, int row) {
    if (vector.isNull(row)) {
      return "null";
    }
    String text = text(type, vector, row);
    boolean bare =
        switch (type.kind()) {
          case SMALLINT, INTEGER, BIGINT, DECIMAL, BOOLEAN, JSON -> true;
          case REAL, DOUBLE -> !text.endsWith("N") && !text.endsWith("y");
          default -> false;
        };
    return bare ? text : JsonStrings.quoted(text);
  }

  private static String plain(String number) {
    if (number.endsWith("N") || number.endsWith("y")) {
      return number; // NaN and infinity
    }
    BigDecimal value = new BigDecimal(number);
    boolean shortEnough = Math.abs(value.precision() - value.scale()) <= 20 && value.scale() <= 20;
    return shortEnough ? value.stripTrailingZeros().toPlainString() : number;
  }
}
