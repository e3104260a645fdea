package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.convert.GroupRecordConverter;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.ColumnChunkMetaData;
import org.apache.parquet.hadoop.metadata.ParquetMetadata;
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
  private final ParquetMetadata footer;
  private final MessageType schema;
  private final List<String> names;
  private final List<Field> fields;
  private final int[] sameAs;

  private ParquetDecoder(
      RandomContent content, ParquetMetadata footer, List<String> names, List<Field> fields) {
    this.content = content;
    this.footer = footer;
    this.schema = footer.getFileMetaData().getSchema();
    this.names = names;
    this.fields = fields;
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
      Set<String> structures = new HashSet<>();
      fields.stream().filter(f -> f.column() == null).forEach(f -> structures.add(f.structure()));
      fields.replaceAll(f -> structures.contains(f.structure()) ? f.insideStructure() : f);
      List<String> names = request.fields().stream().map(FieldRequest.Field::path).toList();
      return new ParquetDecoder(content, reader.getFooter(), names, fields);
    }
  }

  /** The parts to read for some of the columns. */
  private MessageType projection(int[] columns) {
    MessageType all = new MessageType(schema.getName());
    for (int c : columns) {
      Field field = fields.get(c);
      Type whole = schema.getType(field.structure());
      Type kept = field.column() == null ? whole : narrowed(whole, field.column().getPath(), 0);
      all = all.union(new MessageType(schema.getName(), kept));
    }
    return all;
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
    return footer.getBlocks().size();
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public List<int[]> shares(int most) {
    long[] weights = new long[fields.size()];
    int[] leaders = sameAs.clone();
    int structure = -1;
    for (int f = 0; f < weights.length; f++) {
      if (fields.get(f).column() == null) { // all of them come from one reader of records
        structure = structure < 0 ? f : structure;
        leaders[f] = structure;
      }
      weights[f] = leaders[f] == f || fields.get(f).column() == null ? weight(fields.get(f)) : 0;
    }
    return ColumnShares.of(weights, leaders, most);
  }

  /** Bytes and values of the first row group; structures cost more for each. */
  private long weight(Field field) {
    long weight = 0;
    List<ColumnChunkMetaData> chunks =
        footer.getBlocks().isEmpty() ? List.of() : footer.getBlocks().get(0).getColumns();
    for (ColumnChunkMetaData chunk : chunks) {
      boolean part =
          field.column() == null
              ? chunk.getPath().toArray()[0].equals(field.structure())
              : Arrays.equals(chunk.getPath().toArray(), field.column().getPath());
      if (part) {
        long values = chunk.getTotalUncompressedSize() + 8 * chunk.getValueCount();
        weight += field.column() == null ? 8 * values : values;
      }
    }
    return weight;
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
    private final MessageType projection;
    private final ParquetFileReader reader;
    private final NestedValues nested = new NestedValues();
    private final ColumnReader[] readers = new ColumnReader[fields.size()];
    private RecordReader<Group> structures;
    private int group;
    private long count;
    private long done;

    ColumnShare(int[] columns) throws IOException {
      this.columns = columns;
      this.projection = projection(columns);
      this.reader = ParquetReaders.open(content, footer);
      reader.setRequestedSchema(projection);
    }

    @Override
    public TypedRows newRows() {
      return new TypedRows(names, fields.stream().map(Field::type).toList(), columns, sameAs);
    }

    @Override
    public void begin(int newGroup) throws IOException {
      group = newGroup;
      done = 0;
      count = footer.getBlocks().get(group).getRowCount();
      if (count > 0) { // the library refuses to read a group without rows
        open(reader.readRowGroup(group));
      }
    }

    private void open(PageReadStore pages) {
      List<Type> whole = new ArrayList<>();
      for (int c : columns) {
        Type type = projection.getType(fields.get(c).structure());
        if (fields.get(c).column() == null && !whole.contains(type)) {
          whole.add(type);
        }
      }
      MessageType structure = new MessageType(projection.getName(), whole);
      structures =
          whole.isEmpty()
              ? null
              : new ColumnIOFactory()
                  .getColumnIO(structure)
                  .getRecordReader(pages, new GroupRecordConverter(structure));
      ColumnReadStoreImpl store =
          new ColumnReadStoreImpl(
              pages,
              new GroupRecordConverter(projection).getRootConverter(),
              projection,
              footer.getFileMetaData().getCreatedBy());
      for (int c : columns) {
        ColumnDescriptor column = fields.get(c).column();
        readers[c] = column != null && sameAs[c] == c ? store.getColumnReader(column) : null;
      }
    }

    @Override
    public boolean next(TypedRows rows) {
      int rowsNow = (int) Math.min(TypedRows.MOST, count - done);
      if (rowsNow == 0) {
        return false;
      }
      rows.begin(rowsNow, "row group " + (group + 1), done + 1);
      for (int c : columns) {
        Field field = fields.get(c);
        if (readers[c] != null) {
          ParquetTypes.read(readers[c], field.column().getPrimitiveType(), rows, c, field.type());
        }
      }
      for (int r = 0; structures != null && r < rowsNow; r++) {
        Group record = structures.read();
        for (int c : columns) {
          Field field = fields.get(c);
          if (field.column() == null) {
            String json = ParquetJson.of(record, field.structure());
            nested.put(json, field.path(), field.type(), rows, c, r);
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
