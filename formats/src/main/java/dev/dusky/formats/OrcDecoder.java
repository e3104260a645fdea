package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.apache.orc.Reader;
import org.apache.orc.RecordReader;
import org.apache.orc.StripeInformation;
import org.apache.orc.TypeDescription;
import org.apache.orc.storage.ql.exec.vector.ColumnVector;
import org.apache.orc.storage.ql.exec.vector.StructColumnVector;
import org.apache.orc.storage.ql.exec.vector.VectorizedRowBatch;

/** Decodes ORC stripes, only the columns asked for. */
final class OrcDecoder implements GroupDecoder {

  /**
   * A field: the way through records by child numbers, its type there, and what is sought in it.
   */
  private record Field(SchemaPath path, List<Integer> way, TypeDescription orc, SqlType type) {}

  private final RandomContent content;
  private final List<String> names;
  private final List<Field> fields = new ArrayList<>();
  private final List<StripeInformation> stripes;
  private final TypeDescription schema;

  OrcDecoder(String path, RandomContent content, FieldRequest request) throws IOException {
    this.content = content;
    this.names = request.fields().stream().map(FieldRequest.Field::path).toList();
    try (Reader reader = OrcReaders.open(content)) {
      schema = reader.getSchema();
      stripes = reader.getStripes();
    }
    if (schema.getCategory() != TypeDescription.Category.STRUCT) {
      throw Failure.file(path + " has no records")
          .because("its ORC schema is of type " + schema.getCategory().getName());
    }
    List<String> missing = new ArrayList<>();
    for (FieldRequest.Field wanted : request.fields()) {
      Field field = resolve(wanted);
      if (field == null) {
        missing.add(wanted.path());
      } else {
        fields.add(field);
      }
    }
    if (!missing.isEmpty()) {
      throw SchemaPath.missing(path, missing, schema.getFieldNames(), request);
    }
  }

  private Field resolve(FieldRequest.Field wanted) {
    SchemaPath path = SchemaPath.of(wanted.path());
    TypeDescription type = schema;
    List<Integer> way = new ArrayList<>();
    while (way.size() < path.names().size()
        && type.getCategory() == TypeDescription.Category.STRUCT) {
      String name = SchemaPath.match(path.names().get(way.size()), type.getFieldNames());
      if (name == null) {
        return null;
      }
      int child = type.getFieldNames().indexOf(name);
      way.add(child);
      type = type.getChildren().get(child);
    }
    if (way.isEmpty()) {
      return null;
    }
    SchemaPath rest = path.stoppingAfter(way.size());
    SqlType sql =
        rest.rest().isEmpty()
            ? OrcValues.type(type)
            : SqlType.of(wanted.json() ? TypeKind.JSON : TypeKind.TEXT);
    return new Field(rest, way, type, sql);
  }

  @Override
  public int groups() {
    return stripes.size();
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public List<int[]> shares(int most) {
    long[] weights = new long[fields.size()];
    int[] leaders = new int[weights.length];
    for (int f = 0; f < weights.length; f++) {
      int leader = 0; // what comes from the same top-level column is read once
      while (!fields.get(leader).way().get(0).equals(fields.get(f).way().get(0))) {
        leader++;
      }
      leaders[f] = leader;
      weights[f] = fields.get(f).orc().getCategory().isPrimitive() ? 1 : 8;
    }
    return ColumnShares.of(weights, leaders, most);
  }

  @Override
  public Share open(int[] columns) throws IOException {
    return new ColumnShare(columns);
  }

  @Override
  public void close() throws IOException {
    content.close();
  }

  /** Some of the columns. */
  private final class ColumnShare implements Share {
    private final int[] columns;
    private final boolean[] included = new boolean[schema.getMaximumId() + 1];
    private final Reader reader;
    private final VectorizedRowBatch batch = schema.createRowBatch(TypedRows.MOST);
    private final NestedValues nested = new NestedValues();
    private RecordReader source;
    private int group;
    private long done;

    ColumnShare(int[] columns) throws IOException {
      this.columns = columns;
      this.reader = OrcReaders.open(content);
      included[0] = true;
      for (int c : columns) {
        TypeDescription top = schema.getChildren().get(fields.get(c).way().get(0));
        Arrays.fill(included, top.getId(), top.getMaximumId() + 1, true);
      }
    }

    @Override
    public TypedRows newRows() {
      return new TypedRows(names, fields.stream().map(Field::type).toList(), columns, null);
    }

    @Override
    public void begin(int newGroup) throws IOException {
      if (source != null) {
        source.close();
      }
      group = newGroup;
      done = 0;
      source = OrcStripe.open(reader, stripes.get(group), included);
    }

    @Override
    public boolean next(TypedRows rows) throws IOException {
      if (!source.nextBatch(batch)) {
        return false;
      }
      rows.begin(batch.size, "stripe " + (group + 1), done + 1);
      for (int c : columns) {
        read(fields.get(c), rows, c);
      }
      done += batch.size;
      return true;
    }

    private void read(Field field, TypedRows rows, int column) {
      ColumnVector[] way = new ColumnVector[field.way().size()];
      way[0] = batch.cols[field.way().get(0)];
      for (int i = 1; i < way.length; i++) {
        way[i] = ((StructColumnVector) way[i - 1]).fields[field.way().get(i)];
      }
      ColumnVector vector = way[way.length - 1];
      for (int r = 0; r < batch.size; r++) {
        boolean there = true;
        for (ColumnVector step : way) {
          int at = step.isRepeating ? 0 : r;
          there &= step.noNulls || !step.isNull[at];
        }
        if (!there) {
          rows.vector(column).setNull(r);
        } else if (field.path().rest().isEmpty()) {
          OrcValues.put(vector, field.orc(), field.type(), rows, column, r);
        } else {
          String json = OrcValues.json(vector, field.orc(), r);
          nested.put(json, field.path(), field.type(), rows, column, r);
        }
      }
    }

    @Override
    public void close() throws IOException {
      try (reader) {
        if (source != null) {
          source.close();
        }
      }
    }
  }
}
