package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.convert.GroupRecordConverter;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.ColumnIOFactory;
import org.apache.parquet.io.RecordReader;
import org.apache.parquet.schema.GroupType;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.Type;

/**
 * Decodes Parquet row groups. Plain columns, also those inside records, come straight from their
 * column readers; lists, maps and whole records are put together as JSON. Only the columns asked
 * for are read.
 */
final class ParquetDecoder implements GroupDecoder {

  /** A field: a plain column, or the JSON of a top-level field with a path into it. */
  private record Field(SchemaPath path, ColumnDescriptor column, String structure, SqlType type) {

    /** The same sought in the JSON of its structure, whose pages can only be read once. */
    Field insideStructure() {
      return column == null
          ? this
          : new Field(path.stoppingAfter(1), null, structure, SqlType.of(TypeKind.TEXT));
    }
  }

  private final RandomContent content;
  private final int groups;
  private final List<String> names;
  private final List<Field> fields;
  private final MessageType projection;
  private final String createdBy;
  private final int[] sameAs;

  private ParquetDecoder(
      RandomContent content,
      int groups,
      List<String> names,
      List<Field> fields,
      MessageType projection,
      String createdBy) {
    this.content = content;
    this.groups = groups;
    this.names = names;
    this.fields = fields;
    this.projection = projection;
    this.createdBy = createdBy;
    this.sameAs = new int[fields.size()];
    for (int f = 0; f < sameAs.length; f++) {
      int first = f;
      for (int g = f - 1; g >= 0 && fields.get(f).column() != null; g--) {
        first = fields.get(f).column().equals(fields.get(g).column()) ? g : first;
      }
      sameAs[f] = first;
    }
  }

  static ParquetDecoder of(String path, RandomContent content, FieldRequest request)
      throws IOException {
    try (ParquetFileReader reader = ParquetReaders.open(content)) {
      MessageType schema = reader.getFooter().getFileMetaData().getSchema();
      List<Field> fields = new ArrayList<>();
      List<String> missing = new ArrayList<>();
      List<String> known = schema.getFields().stream().map(Type::getName).toList();
      for (FieldRequest.Field wanted : request.fields()) {
        Field field = resolve(schema, known, wanted);
        if (field == null) {
          missing.add(wanted.path());
        } else {
          fields.add(field);
        }
      }
      if (!missing.isEmpty()) {
        throw SchemaPath.missing(path, missing, known, request);
      }
      Set<Type> kept = new LinkedHashSet<>();
      Set<String> structures = new LinkedHashSet<>();
      fields.stream().filter(f -> f.column() == null).forEach(f -> structures.add(f.structure()));
      fields.replaceAll(f -> structures.contains(f.structure()) ? f.insideStructure() : f);
      for (Field field : fields) {
        boolean whole = field.column() == null || structures.contains(field.structure());
        kept.add(
            whole
                ? schema.getType(field.structure())
                : narrowed(schema.getType(field.structure()), field.column().getPath(), 0));
      }
      MessageType projection = new MessageType(schema.getName());
      for (Type type : kept) {
        projection = projection.union(new MessageType(schema.getName(), type));
      }
      return new ParquetDecoder(
          content,
          reader.getRowGroups().size(),
          request.fields().stream().map(FieldRequest.Field::path).toList(),
          fields,
          projection,
          reader.getFooter().getFileMetaData().getCreatedBy());
    }
  }

  /** A type with nothing in it but what leads to one column. */
  private static Type narrowed(Type type, String[] path, int depth) {
    if (type.isPrimitive()) {
      return type;
    }
    GroupType group = type.asGroupType();
    return group.withNewFields(narrowed(group.getType(path[depth + 1]), path, depth + 1));
  }

  private static Field resolve(MessageType schema, List<String> known, FieldRequest.Field wanted) {
    SchemaPath path = SchemaPath.of(wanted.path());
    if (path.names().isEmpty()) {
      return null;
    }
    String top = SchemaPath.match(path.names().get(0), known);
    if (top == null) {
      return null;
    }
    Type type = schema.getType(top);
    List<String> column = new ArrayList<>(List.of(top));
    int used = 1;
    while (used < path.names().size() && isRecord(type)) {
      GroupType group = type.asGroupType();
      String name =
          SchemaPath.match(
              path.names().get(used), group.getFields().stream().map(Type::getName).toList());
      if (name == null) {
        return null;
      }
      column.add(name);
      type = group.getType(name);
      used++;
    }
    boolean plain = type.isPrimitive() && !type.isRepetition(Type.Repetition.REPEATED);
    if (plain && used == path.names().size() && path.rest().isEmpty()) {
      ColumnDescriptor descriptor = schema.getColumnDescription(column.toArray(String[]::new));
      return new Field(path, descriptor, top, ParquetTypes.of(type));
    }
    boolean json = wanted.json() || path.names().size() == 1 && path.rest().isEmpty();
    return new Field(
        path.stoppingAfter(1), null, top, SqlType.of(json ? TypeKind.JSON : TypeKind.TEXT));
  }

  private static boolean isRecord(Type type) {
    return !type.isPrimitive()
        && !type.isRepetition(Type.Repetition.REPEATED)
        && type.getLogicalTypeAnnotation() == null;
  }

  @Override
  public int groups() {
    return groups;
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public TypedRows newRows() {
    return TypedRows.sharing(names, fields.stream().map(Field::type).toList(), sameAs);
  }

  @Override
  public Run open(int group) throws IOException {
    ParquetFileReader reader = ParquetReaders.open(content);
    try {
      reader.setRequestedSchema(projection);
      PageReadStore pages = reader.readRowGroup(group);
      return new PageRun(reader, pages, group);
    } catch (IOException | RuntimeException e) {
      reader.close();
      throw e;
    }
  }

  @Override
  public void close() throws IOException {
    content.close();
  }

  /** One row group. */
  private final class PageRun implements Run {
    private final ParquetFileReader reader;
    private final int group;
    private final long count;
    private final ColumnReader[] columns = new ColumnReader[fields.size()];
    private final RecordReader<Group> structures;
    private final NestedValues nested = new NestedValues();
    private long done;

    PageRun(ParquetFileReader reader, PageReadStore pages, int group) {
      this.reader = reader;
      this.group = group;
      this.count = pages.getRowCount();
      boolean anyStructure = false;
      List<Type> whole = new ArrayList<>();
      for (Field field : fields) {
        if (field.column() == null) {
          anyStructure = true;
          Type type = projection.getType(field.structure());
          if (!whole.contains(type)) {
            whole.add(type);
          }
        }
      }
      MessageType structure = new MessageType(projection.getName(), whole);
      structures =
          anyStructure
              ? new ColumnIOFactory()
                  .getColumnIO(structure)
                  .getRecordReader(pages, new GroupRecordConverter(structure))
              : null;
      ColumnReadStoreImpl store =
          new ColumnReadStoreImpl(
              pages,
              new GroupRecordConverter(projection).getRootConverter(),
              projection,
              createdBy);
      for (int f = 0; f < columns.length; f++) {
        Field field = fields.get(f);
        if (field.column() != null && sameAs[f] == f) {
          columns[f] = store.getColumnReader(field.column());
        }
      }
    }

    @Override
    public boolean next(TypedRows rows) {
      int rowsNow = (int) Math.min(TypedRows.MOST, count - done);
      if (rowsNow == 0) {
        return false;
      }
      rows.begin(rowsNow, "row group " + (group + 1), done + 1);
      for (int f = 0; f < columns.length; f++) {
        Field field = fields.get(f);
        if (columns[f] != null) {
          ParquetTypes.read(columns[f], field.column().getPrimitiveType(), rows, f, field.type());
        }
      }
      for (int r = 0; structures != null && r < rowsNow; r++) {
        Group record = structures.read();
        for (int f = 0; f < columns.length; f++) {
          Field field = fields.get(f);
          if (field.column() == null) {
            String json = ParquetJson.of(record, field.structure());
            nested.put(json, field.path(), field.type(), rows, f, r);
          }
        }
      }
      done += rowsNow;
      return true;
    }

    @Override
    public void close() throws IOException {
      reader.close();
    }
  }
}
