package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Hint;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.failure.LibraryWords;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.LayoutReaders;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.ParquetMetadata;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.Type;

/** Opens Parquet files. */
public final class ParquetReaders implements LayoutReaders {

  private static final byte[] MAGIC = "PAR1".getBytes(StandardCharsets.US_ASCII);

  @Override
  public boolean reads(Layout layout) {
    return layout instanceof ColumnarLayout columnar
        && columnar.format() == ColumnarLayout.Format.PARQUET;
  }

  @Override
  public RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    RandomContent content = file.anywhere();
    boolean begins = begins(content);
    try {
      return new GroupReader(
          file.path(), "Parquet", ParquetDecoder.of(file.path(), content, request));
    } catch (IOException | RuntimeException e) {
      content.close();
      throw damaged(file.path(), content.size(), begins, e);
    }
  }

  @Override
  public List<DeclaredField> fields(SourceFile file, Layout layout) throws IOException {
    RandomContent content = file.anywhere();
    boolean begins = begins(content);
    try (content;
        ParquetFileReader reader = open(content)) {
      MessageType schema = reader.getFooter().getFileMetaData().getSchema();
      List<DeclaredField> fields = new ArrayList<>();
      for (Type field : schema.getFields()) {
        fields.add(
            new DeclaredField(
                field.getName(),
                ParquetTypes.of(field),
                field.isRepetition(Type.Repetition.REQUIRED)));
      }
      return fields;
    } catch (IOException | RuntimeException e) {
      throw damaged(file.path(), content.size(), begins, e);
    }
  }

  static ParquetFileReader open(RandomContent content) throws IOException {
    return ParquetFileReader.open(new ParquetInput(content), options());
  }

  /** Opens a file once more, without reading its footer again. */
  static ParquetFileReader open(RandomContent content, ParquetMetadata footer) throws IOException {
    ParquetInput input = new ParquetInput(content);
    return new ParquetFileReader(input, footer, options(), input.newStream());
  }

  private static ParquetReadOptions options() {
    return ParquetReadOptions.builder(new PlainParquetConfiguration())
        .withCodecFactory(new ParquetCodecs())
        .build();
  }

  private static RuntimeException damaged(String path, long size, boolean begins, Exception e)
      throws IOException {
    if (e instanceof Failure failure) {
      return failure;
    }
    if (e instanceof dev.dusky.core.bytes.StorageException storage) {
      throw storage;
    }
    String why = LibraryWords.of(e);
    return Failure.file(path + (begins ? " is cut or damaged" : " is not a Parquet file"))
        .because(
            begins
                ? "its end is not that of a Parquet file of %,d bytes: %s".formatted(size, why)
                : "it does not begin with PAR1")
        .hint(
            begins
                ? Hint.of("Nothing of it was loaded. Stage the file again, then load again")
                : Hint.of("Check which file was staged with {}", Invocation.of("peek")))
        .from(e);
  }

  private static boolean begins(RandomContent content) throws IOException {
    return content.size() >= 4 && Arrays.equals(content.bytes(0, 4), MAGIC);
  }
}
