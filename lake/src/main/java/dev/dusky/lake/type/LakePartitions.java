package dev.dusky.lake.type;

import dev.dusky.core.table.PartitionField;
import java.util.List;
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
}
