package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.LayoutReaders;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.apache.avro.Schema;
import org.apache.avro.file.DataFileReader;
import org.apache.avro.file.SeekableInput;
import org.apache.avro.generic.GenericDatumReader;
import org.apache.avro.generic.GenericRecord;

/** Opens Avro object container files. */
public final class AvroReaders implements LayoutReaders {

  @Override
  public boolean reads(Layout layout) {
    return layout instanceof ColumnarLayout columnar
        && columnar.format() == ColumnarLayout.Format.AVRO;
  }

  @Override
  public RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    RandomContent content = file.anywhere();
    try {
      GenericDatumReader<GenericRecord> datums = new GenericDatumReader<>();
      return new AvroReader(
          file.path(), content, reader(file.path(), content, datums), datums, request);
    } catch (IOException | RuntimeException e) {
      content.close();
      throw e;
    }
  }

  @Override
  public List<DeclaredField> fields(SourceFile file, Layout layout) throws IOException {
    try (RandomContent content = file.anywhere();
        DataFileReader<GenericRecord> reader =
            reader(file.path(), content, new GenericDatumReader<>())) {
      List<DeclaredField> fields = new ArrayList<>();
      for (Schema.Field field : reader.getSchema().getFields()) {
        Schema schema = AvroValues.notNull(field.schema());
        fields.add(
            new DeclaredField(
                field.name(), AvroValues.type(schema), schema.equals(field.schema())));
      }
      return fields;
    }
  }

  private static DataFileReader<GenericRecord> reader(
      String path, RandomContent content, GenericDatumReader<GenericRecord> datums)
      throws IOException {
    boolean begins =
        content.size() >= 4 && Arrays.equals(content.bytes(0, 4), new byte[] {'O', 'b', 'j', 1});
    if (!begins) {
      throw Failure.file(path + " is not an Avro file")
          .because("it does not begin with the magic bytes of an object container file")
          .hint("Check which file was staged with {}", Invocation.of("peek"));
    }
    try {
      new AvroSizes(content).checkHeader();
      DataFileReader<GenericRecord> reader = new DataFileReader<>(new AvroInput(content), datums);
      if (reader.getSchema().getType() != Schema.Type.RECORD) {
        throw Failure.file(path + " has no records")
            .because("its Avro schema is of type " + reader.getSchema().getType().getName());
      }
      return reader;
    } catch (Failure | StorageException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw AvroReader.damaged(path, "its header", e);
    }
  }

  /** Lets the Avro library read our content. */
  private static final class AvroInput implements SeekableInput {
    private final RandomContent content;
    private long position;

    AvroInput(RandomContent content) {
      this.content = content;
    }

    @Override
    public void seek(long to) {
      position = to;
    }

    @Override
    public long tell() {
      return position;
    }

    @Override
    public long length() {
      return content.size();
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      int read = length == 0 ? 0 : content.read(position, to, offset, length);
      position += read;
      return read == 0 && length > 0 ? -1 : read;
    }

    @Override
    public void close() {}
  }
}
