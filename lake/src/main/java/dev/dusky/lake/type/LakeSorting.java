package dev.dusky.lake.type;

import dev.dusky.core.table.SortField;
import java.util.List;
import java.util.stream.Collectors;
import org.apache.iceberg.NullOrder;
import org.apache.iceberg.Schema;
import org.apache.iceberg.SortDirection;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.transforms.Transform;

/** How the rows of data files are sorted, in the library's terms. */
public final class LakeSorting {

  private LakeSorting() {}

  /** The order of a table with that schema, whose columns the fields name. */
  public static SortOrder order(Schema schema, List<SortField> fields) {
    SortOrder.Builder order = SortOrder.builderFor(schema);
    for (SortField field : fields) {
      if (field.descending()) {
        order.desc(field.column(), NullOrder.NULLS_LAST);
      } else {
        order.asc(field.column(), NullOrder.NULLS_FIRST);
      }
    }
    return order.build();
  }

  /** The fields of an order that a feed could declare; none if it is another kind of order. */
  public static List<SortField> fields(Schema schema, SortOrder order) {
    boolean plain =
        order.fields().stream()
            .allMatch(
                field ->
                    identity(field.transform())
                        && (field.direction() == SortDirection.ASC)
                            == (field.nullOrder() == NullOrder.NULLS_FIRST));
    return plain
        ? order.fields().stream()
            .map(
                field ->
                    new SortField(
                        schema.findColumnName(field.sourceId()),
                        field.direction() == SortDirection.DESC))
            .toList()
        : List.of();
  }

  private static boolean identity(Transform<?, ?> transform) {
    return transform.isIdentity();
  }

  /** The fields that a table is sorted by, as a feed would declare them. */
  public static String text(Schema schema, SortOrder order) {
    return fields(schema, order).stream()
        .map(SortField::toString)
        .collect(Collectors.joining(", "));
  }
}
