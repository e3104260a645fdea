package dev.dusky.lake.type;

import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.iceberg.Schema;
import org.apache.iceberg.types.Type;
import org.apache.iceberg.types.Types;

/**
 * SQL types as types of the table format, and back. What the format does not have, such as the
 * length of a varchar, is kept in the column's comment.
 */
public final class LakeTypes {

  /** The greatest precision of decimals in the format. */
  public static final int MOST_DIGITS = 38;

  private LakeTypes() {}

  /** Why a column cannot be in such a table, if it cannot. */
  public static Optional<String> unfit(FeedColumn column) {
    SqlType type = column.type();
    return type.kind() == TypeKind.DECIMAL && type.precision() > MOST_DIGITS
        ? Optional.of(
            "column %s is %s; tables in object storage hold decimals of up to %d digits"
                .formatted(column.name(), type, MOST_DIGITS))
        : Optional.empty();
  }

  /** The schema of a landing table with these columns, provenance behind them. */
  public static Schema schema(List<FeedColumn> columns) {
    List<Types.NestedField> fields = new ArrayList<>();
    for (FeedColumn column : columns) {
      int id = fields.size() + 1;
      String comment = column.type().toString();
      fields.add(
          column.notNull()
              ? Types.NestedField.required(id, column.name(), type(column.type()), comment)
              : Types.NestedField.optional(id, column.name(), type(column.type()), comment));
    }
    for (String name : Provenance.COLUMNS) {
      fields.add(Types.NestedField.required(fields.size() + 1, name, Types.LongType.get()));
    }
    return new Schema(fields);
  }

  /** The schema of a table with these columns, each with its type and whether it is needed. */
  public static Schema schema(Map<String, SqlType> types, Set<String> needed) {
    List<Types.NestedField> fields = new ArrayList<>();
    types.forEach(
        (name, type) ->
            fields.add(
                needed.contains(name)
                    ? Types.NestedField.required(
                        fields.size() + 1, name, type(type), type.toString())
                    : Types.NestedField.optional(
                        fields.size() + 1, name, type(type), type.toString())));
    return new Schema(fields);
  }

  /** The type in the format. */
  public static Type type(SqlType type) {
    return switch (type.kind()) {
      case BOOLEAN -> Types.BooleanType.get();
      case SMALLINT, INTEGER -> Types.IntegerType.get();
      case BIGINT -> Types.LongType.get();
      case DECIMAL -> Types.DecimalType.of(type.precision(), type.scale());
      case REAL -> Types.FloatType.get();
      case DOUBLE -> Types.DoubleType.get();
      case CHAR, VARCHAR, TEXT, JSON -> Types.StringType.get();
      case DATE -> Types.DateType.get();
      case TIME -> Types.TimeType.get();
      case TIMESTAMP -> Types.TimestampType.withoutZone();
      case TIMESTAMP_TZ -> Types.TimestampType.withZone();
      case UUID -> Types.UUIDType.get();
      case BINARY -> Types.BinaryType.get();
    };
  }

  /** The shape of a table. */
  public static TableShape shape(TableName name, Schema schema) {
    return new TableShape(name, schema.columns().stream().map(LakeTypes::column).toList());
  }

  private static TableColumn column(Types.NestedField field) {
    Optional<SqlType> type = sqlType(field);
    return new TableColumn(
        field.name(),
        type,
        type.map(SqlType::toString).orElse(field.type().toString()),
        field.isRequired(),
        false);
  }

  /** By the comment if it is that of such a type; else by the type alone. */
  private static Optional<SqlType> sqlType(Types.NestedField field) {
    Optional<SqlType> named =
        Optional.ofNullable(field.doc())
            .flatMap(SqlType::parse)
            .filter(type -> type(type).equals(field.type()));
    return named.isPresent() ? named : plain(field.type());
  }

  private static Optional<SqlType> plain(Type type) {
    return switch (type.typeId()) {
      case BOOLEAN -> Optional.of(SqlType.of(TypeKind.BOOLEAN));
      case INTEGER -> Optional.of(SqlType.of(TypeKind.INTEGER));
      case LONG -> Optional.of(SqlType.of(TypeKind.BIGINT));
      case FLOAT -> Optional.of(SqlType.of(TypeKind.REAL));
      case DOUBLE -> Optional.of(SqlType.of(TypeKind.DOUBLE));
      case STRING -> Optional.of(SqlType.of(TypeKind.TEXT));
      case DATE -> Optional.of(SqlType.of(TypeKind.DATE));
      case TIME -> Optional.of(SqlType.of(TypeKind.TIME));
      case UUID -> Optional.of(SqlType.of(TypeKind.UUID));
      case BINARY -> Optional.of(SqlType.of(TypeKind.BINARY));
      case DECIMAL -> {
        Types.DecimalType decimal = (Types.DecimalType) type;
        yield Optional.of(SqlType.decimal(decimal.precision(), decimal.scale()));
      }
      case TIMESTAMP ->
          Optional.of(
              SqlType.of(
                  ((Types.TimestampType) type).shouldAdjustToUTC()
                      ? TypeKind.TIMESTAMP_TZ
                      : TypeKind.TIMESTAMP));
      default -> Optional.empty();
    };
  }
}
