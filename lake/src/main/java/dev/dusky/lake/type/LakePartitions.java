package dev.dusky.lake.type;

import dev.dusky.core.table.PartitionField;
import java.util.List;
import java.util.stream.Collectors;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Schema;

/** How tables are divided, in the library's terms. */
public final class LakePartitions {

  private LakePartitions() {}

  /** The division of a table with that schema, whose columns the fields name. */
  public static PartitionSpec spec(Schema schema, List<PartitionField> fields) {
    PartitionSpec.Builder spec = PartitionSpec.builderFor(schema);
    for (PartitionField field : fields) {
      switch (field.transform()) {
        case IDENTITY -> spec.identity(field.column());
        case YEAR -> spec.year(field.column());
        case MONTH -> spec.month(field.column());
        case DAY -> spec.day(field.column());
        case HOUR -> spec.hour(field.column());
        case BUCKET -> spec.bucket(field.column(), field.number());
        case TRUNCATE -> spec.truncate(field.column(), field.number());
      }
    }
    return spec.build();
  }

  /** The fields that a table is divided by, as a feed would declare them. */
  public static String text(PartitionSpec spec) {
    return spec.fields().stream()
        .filter(field -> !field.transform().isVoid())
        .map(
            field ->
                text(field.transform().toString(), spec.schema().findColumnName(field.sourceId())))
        .collect(Collectors.joining(", "));
  }

  /** The library writes a number behind the transform: {@code bucket[16]}. */
  private static String text(String transform, String column) {
    int number = transform.indexOf('[');
    if (transform.equals("identity")) {
      return column;
    }
    return number < 0
        ? "%s(%s)".formatted(transform, column)
        : "%s(%s, %s)"
            .formatted(
                transform.substring(0, number),
                transform.substring(number + 1, transform.length() - 1),
                column);
  }
}
