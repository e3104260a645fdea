package dev.dusky.formats;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.LayoutReaders;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.apache.avro.AvroRuntimeException;
import org.apache.avro.Schema;
import org.apache.avro.file.DataFileStream;
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
    GenericDatumReader<GenericRecord> datums = new GenericDatumReader<>();
    return new AvroReader(file.path(), stream(file, datums), datums, request);
  }

  @Override
  public List<DeclaredField> fields(SourceFile file, Layout layout) throws IOException {
    try (DataFileStream<GenericRecord> stream = stream(file, new GenericDatumReader<>())) {
      List<DeclaredField> fields = new ArrayList<>();
      for (Schema.Field field : stream.getSchema().getFields()) {
        Schema schema = AvroValues.notNull(field.schema());
        fields.add(
            new DeclaredField(
                field.name(), AvroValues.type(schema), schema.equals(field.schema())));
      }
      return fields;
    }
  }

  private static DataFileStream<GenericRecord> stream(
      SourceFile file, GenericDatumReader<GenericRecord> datums) throws IOException {
    BufferedInputStream in = new BufferedInputStream(file.content(), 64 << 10);
    in.mark(4);
    byte[] head = in.readNBytes(4);
    in.reset();
    boolean begins =
        head.length == 4 && head[0] == 'O' && head[1] == 'b' && head[2] == 'j' && head[3] == 1;
    if (!begins) {
      throw Failure.file(file.path() + " is not an Avro file")
          .because("it does not begin with the mark of an object container file")
          .next("Check which file was staged; 'dusky peek' shows what it looks like");
    }
    try {
      DataFileStream<GenericRecord> stream = new DataFileStream<>(in, datums);
      if (stream.getSchema().getType() != Schema.Type.RECORD) {
        throw Failure.file(file.path() + " has no records")
            .because("its Avro schema is of type " + stream.getSchema().getType().getName());
      }
      return stream;
    } catch (AvroRuntimeException | java.io.EOFException e) {
      throw AvroReader.damaged(file.path(), "its header", e);
    }
  }
}
