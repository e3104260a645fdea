package dev.dusky.warehouses.source;

import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Types;
import java.util.Locale;

/**
 * The types of a query's columns. What has no exact type here is text, as the database writes it.
 */
final class SourceTypes {

  /** The most digits of decimals that all kinds of files hold. */
  private static final int MOST_DIGITS = 38;

  private SourceTypes() {}

  /**
   * A column of a result.
   *
   * @param upper whether the database writes plain names in upper case
   */
  static SourceColumn column(ResultSetMetaData data, int index, boolean upper) throws SQLException {
    String name = data.getColumnTypeName(index).toLowerCase(Locale.ROOT);
    int precision = data.getPrecision(index);
    int scale = data.getScale(index);
    SqlType type = type(data, index, name, precision, scale);
    String declared =
        switch (data.getColumnType(index)) {
          case Types.NUMERIC, Types.DECIMAL ->
              precision > 0 ? "%s(%d,%d)".formatted(name, precision, scale) : name;
          case Types.CHAR, Types.VARCHAR, Types.NCHAR, Types.NVARCHAR ->
              precision > 0 && precision < 10_000_000 && !name.contains("(")
                  ? "%s(%d)".formatted(name, precision)
                  : name;
          default -> name;
        };
    String label = data.getColumnLabel(index);
    boolean plain = upper && label.equals(label.toUpperCase(Locale.ROOT));
    return new SourceColumn(plain ? label.toLowerCase(Locale.ROOT) : label, label, type, declared);
  }

  private static SqlType type(
      ResultSetMetaData data, int index, String name, int precision, int scale)
      throws SQLException {
    return switch (name) {
      case "uuid" -> SqlType.of(TypeKind.UUID);
      case "json", "jsonb" -> SqlType.of(TypeKind.JSON);
      case "timestamptz" -> SqlType.of(TypeKind.TIMESTAMP_TZ);
      case "timetz", "money", "bit", "varbit", "oid" -> SqlType.of(TypeKind.TEXT);
      default -> type(data.getColumnType(index), data.isSigned(index), precision, scale);
    };
  }

  private static SqlType type(int code, boolean signed, int precision, int scale) {
    return switch (code) {
      case Types.BIT, Types.BOOLEAN -> SqlType.of(TypeKind.BOOLEAN);
      case Types.TINYINT, Types.SMALLINT ->
          SqlType.of(signed ? TypeKind.SMALLINT : TypeKind.INTEGER);
      case Types.INTEGER -> SqlType.of(signed ? TypeKind.INTEGER : TypeKind.BIGINT);
      case Types.BIGINT -> signed ? SqlType.of(TypeKind.BIGINT) : SqlType.decimal(20, 0);
      case Types.NUMERIC, Types.DECIMAL ->
          precision > 0 && precision <= MOST_DIGITS && scale >= 0 && scale <= precision
              ? SqlType.decimal(precision, scale)
              : SqlType.of(TypeKind.TEXT);
      case Types.REAL -> SqlType.of(TypeKind.REAL);
      case Types.FLOAT, Types.DOUBLE -> SqlType.of(TypeKind.DOUBLE);
      case Types.DATE -> SqlType.of(TypeKind.DATE);
      case Types.TIME -> SqlType.of(TypeKind.TIME);
      case Types.TIMESTAMP -> SqlType.of(TypeKind.TIMESTAMP);
      case Types.TIMESTAMP_WITH_TIMEZONE -> SqlType.of(TypeKind.TIMESTAMP_TZ);
      case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB ->
          SqlType.of(TypeKind.BINARY);
      default -> SqlType.of(TypeKind.TEXT);
    };
  }
}
