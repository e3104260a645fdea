package dev.dusky.lake.type;

import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.type.NestedForm;
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

  private int ids;

  private LakeTypes() {}

  /** Why a column cannot be in such a table, if it cannot. */
  public static Optional<String> unfit(FeedColumn column) {
    return column
        .type()
        .scalars()
        .filter(type -> type.kind() == TypeKind.DECIMAL && type.precision() > MOST_DIGITS)
        .findFirst()
        .map(
            type ->
                "column %s is %s; tables in object storage hold decimals of up to %d digits"
                    .formatted(column.name(), type, MOST_DIGITS));
  }

  /** The schema of a landing table with these columns, provenance behind them. */
  public static Schema schema(List<FeedColumn> columns) {
    LakeTypes types = new LakeTypes();
    List<Types.NestedField> fields = new ArrayList<>();
    columns.forEach(c -> fields.add(types.field(c.name(), c.type(), c.notNull())));
    for (String name : Provenance.COLUMNS) {
      fields.add(Types.NestedField.required(types.next(), name, Types.LongType.get()));
    }
    return new Schema(fields);
  }

  /** The schema of a table with these columns, each with its type and whether it is needed. */
  public static Schema schema(Map<String, SqlType> columns, Set<String> needed) {
    LakeTypes types = new LakeTypes();
    List<Types.NestedField> fields = new ArrayList<>();
    columns.forEach((name, type) -> fields.add(types.field(name, type, needed.contains(name))));
    return new Schema(fields);
  }

  private int next() {
    return ++ids;
  }

  private Types.NestedField field(String name, SqlType type, boolean notNull) {
    int id = next();
    Type stored = typed(type);
    String comment = type.isNested() ? null : type.toString();
    return notNull
        ? Types.NestedField.required(id, name, stored, comment)
        : Types.NestedField.optional(id, name, stored, comment);
  }

  private Type typed(SqlType type) {
    if (!type.isNested()) {
      return scalar(type);
    }
    NestedForm form = type.form().orElseThrow();
    if (form instanceof NestedForm.Members members) {
      return Types.StructType.of(
          members.members().stream()
              .map(m -> field(m.name(), m.part().type(), m.part().notNull()))
              .toList());
    }
    if (form instanceof NestedForm.Items items) {
      int id = next();
      Type element = typed(items.element().type());
      return items.element().notNull()
          ? Types.ListType.ofRequired(id, element)
          : Types.ListType.ofOptional(id, element);
    }
    NestedForm.Part value = ((NestedForm.Entries) form).value();
    int key = next();
    int id = next();
    Type stored = typed(value.type());
    return value.notNull()
        ? Types.MapType.ofRequired(key, id, Types.StringType.get(), stored)
        : Types.MapType.ofOptional(key, id, Types.StringType.get(), stored);
  }

  /** The type in the format. */
  public static Type type(SqlType type) {
    return new LakeTypes().typed(type);
  }

  private static Type scalar(SqlType type) {
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
    return named.isPresent() ? named : sqlType(field.type());
  }

  /** The SQL type of a type; an object of a table takes no notice of members that it lacks. */
  static Optional<SqlType> sqlType(Type type) {
    return switch (type.typeId()) {
      case STRUCT -> members(type.asStructType());
      case LIST ->
          part(type.asListType().fields().get(0))
              .map(element -> SqlType.nested(new NestedForm.Items(element)));
      case MAP ->
          type.asMapType().keyType().typeId() == Type.TypeID.STRING
              ? part(type.asMapType().fields().get(1))
                  .map(value -> SqlType.nested(new NestedForm.Entries(value)))
              : Optional.empty();
      default -> plain(type);
    };
  }

  private static Optional<SqlType> members(Types.StructType struct) {
    List<NestedForm.Member> members = new ArrayList<>();
    for (Types.NestedField field : struct.fields()) {
      Optional<NestedForm.Part> part = part(field);
      if (part.isEmpty()) {
        return Optional.empty();
      }
      members.add(new NestedForm.Member(field.name(), part.get()));
    }
    return Optional.of(SqlType.nested(new NestedForm.Members(members, true)));
  }

  private static Optional<NestedForm.Part> part(Types.NestedField field) {
    return sqlType(field).map(type -> new NestedForm.Part(type, field.isRequired()));
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
