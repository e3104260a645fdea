package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.io.EOFException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.apache.avro.Schema;
import org.apache.avro.file.DataFileReader;
import org.apache.avro.generic.GenericDatumReader;
import org.apache.avro.generic.GenericRecord;

/** Reads Avro records, only the fields that are asked for, into typed batches. */
final class AvroReader implements RecordReader {

  /** A field: the names that lead to it, its schema there, and what is sought further in. */
  private record Field(SchemaPath path, List<String> names, Schema schema, SqlType type) {}

  private final String path;
  private final RandomContent content;
  private final DataFileReader<GenericRecord> stream;
  private final List<String> names;
  private final List<Field> fields = new ArrayList<>();
  private final NestedValues nested = new NestedValues();
  private final java.util.Map<RecordBatch, TypedRows> lent = new java.util.IdentityHashMap<>();
  private long block;
  private long left;
  private long rowInBlock;
  private GenericRecord reused;

  AvroReader(
      String path,
      RandomContent content,
      DataFileReader<GenericRecord> stream,
      GenericDatumReader<GenericRecord> datums,
      FieldRequest request)
      throws IOException {
    this.path = path;
    this.content = content;
    this.stream = stream;
    this.names = request.fields().stream().map(FieldRequest.Field::path).toList();
    List<String> missing = new ArrayList<>();
    List<String> known = stream.getSchema().getFields().stream().map(Schema.Field::name).toList();
    Set<String> tops = new LinkedHashSet<>();
    for (FieldRequest.Field wanted : request.fields()) {
      Field field = resolve(stream.getSchema(), wanted);
      if (field == null) {
        missing.add(wanted.path());
      } else {
        fields.add(field);
        tops.add(field.names().get(0));
      }
    }
    if (!missing.isEmpty()) {
      stream.close();
      throw SchemaPath.missing(path, missing, known, request);
    }
    datums.setExpected(projection(stream.getSchema(), tops));
  }

  private static Schema projection(Schema schema, Set<String> tops) {
    List<Schema.Field> kept = new ArrayList<>();
    for (Schema.Field field : schema.getFields()) {
      if (tops.contains(field.name())) {
        kept.add(new Schema.Field(field, field.schema()));
      }
    }
    return Schema.createRecord(schema.getName(), null, schema.getNamespace(), false, kept);
  }

  private static Field resolve(Schema root, FieldRequest.Field wanted) {
    SchemaPath path = SchemaPath.of(wanted.path());
    Schema schema = root;
    List<String> names = new ArrayList<>();
    while (names.size() < path.names().size() && schema.getType() == Schema.Type.RECORD) {
      String name =
          SchemaPath.match(
              path.names().get(names.size()),
              schema.getFields().stream().map(Schema.Field::name).toList());
      if (name == null) {
        return null;
      }
      names.add(name);
      schema = AvroValues.notNull(schema.getField(name).schema());
    }
    if (names.isEmpty()) {
      return null;
    }
    SchemaPath rest = path.stoppingAfter(names.size());
    SqlType type =
        rest.rest().isEmpty()
            ? AvroValues.type(schema)
            : SqlType.of(wanted.json() ? TypeKind.JSON : TypeKind.TEXT);
    return new Field(rest, names, schema, type);
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public boolean typed() {
    return true;
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    TypedRows rows = lent.remove(batch);
    if (rows == null) {
      rows = new TypedRows(names, fields.stream().map(Field::type).toList());
    }
    int count = 0;
    try {
      while (count < TypedRows.MOST && hasNext()) {
        if (left == 0) {
          if (count > 0) {
            break; // a batch lies within one block, so that rows can be placed
          }
          block++;
          left = stream.getBlockCount();
          rowInBlock = 1;
        }
        if (count == 0) {
          rows.begin(TypedRows.MOST, "block " + block, rowInBlock);
        }
        reused = stream.next(reused);
        for (int f = 0; f < fields.size(); f++) {
          put(fields.get(f), rows, f, count);
        }
        count++;
        left--;
        rowInBlock++;
      }
    } catch (Failure | StorageException e) {
      throw e;
    } catch (RuntimeException | IOException e) {
      if (e.getCause() instanceof StorageException storage) {
        throw storage;
      }
      throw damaged(path, "row %,d of block %,d".formatted(rowInBlock, block), e);
    }
    if (count == 0) {
      checkEnd();
      return false;
    }
    rows.cutTo(count);
    rows.moveTo(batch);
    lent.put(batch, rows);
    return true;
  }

  /** Looks at the next block's size before the library makes room for it. */
  private boolean hasNext() throws IOException {
    if (left == 0 && stream.previousSync() < content.size()) {
      new AvroSizes(content).checkBlock(stream.previousSync());
    }
    return stream.hasNext();
  }

  /** The library takes a block that is cut short for the end of the file; we do not. */
  private void checkEnd() throws IOException {
    if (stream.previousSync() != content.size()) {
      throw damaged(
          path,
          "what follows block %,d".formatted(block),
          new EOFException(
              "the file continues to byte %,d, its last whole block ends at byte %,d"
                  .formatted(content.size(), stream.previousSync())));
    }
  }

  private void put(Field field, TypedRows rows, int column, int row) {
    Object value = reused;
    for (int i = 0; i < field.names().size() && value != null; i++) {
      value = ((GenericRecord) value).get(field.names().get(i));
    }
    if (field.path().rest().isEmpty()) {
      AvroValues.put(value, field.schema(), field.type(), rows, column, row);
    } else {
      String json = value == null ? null : AvroValues.json(value, field.schema());
      nested.put(json, field.path(), field.type(), rows, column, row);
    }
  }

  static Failure damaged(String path, String where, Exception e) {
    return Failure.file(path + " is cut or damaged")
        .because("%s cannot be decoded: %s".formatted(where, LibraryWords.of(e)))
        .hint("Nothing of it was loaded. Stage the file again, then load again")
        .from(e);
  }

  @Override
  public void close() throws IOException {
    stream.close();
    content.close();
  }
}
