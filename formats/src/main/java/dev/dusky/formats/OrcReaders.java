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
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.Path;
import org.apache.orc.OrcFile;
import org.apache.orc.Reader;
import org.apache.orc.TypeDescription;

/** Opens ORC files. */
public final class OrcReaders implements LayoutReaders {

  private static final byte[] MAGIC = "ORC".getBytes(StandardCharsets.US_ASCII);

  @Override
  public boolean reads(Layout layout) {
    return layout instanceof ColumnarLayout columnar
        && columnar.format() == ColumnarLayout.Format.ORC;
  }

  @Override
  public RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    RandomContent content = file.anywhere();
    boolean begins = begins(content);
    try {
      return new GroupReader(file.path(), "ORC", new OrcDecoder(file.path(), content, request));
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
        Reader reader = open(content)) {
      TypeDescription schema = reader.getSchema();
      List<DeclaredField> fields = new ArrayList<>();
      for (int i = 0; i < schema.getFieldNames().size(); i++) {
        fields.add(
            new DeclaredField(
                schema.getFieldNames().get(i), OrcValues.type(schema.getChildren().get(i)), false));
      }
      return fields;
    } catch (IOException | RuntimeException e) {
      throw damaged(file.path(), content.size(), begins, e);
    }
  }

  static Reader open(RandomContent content) throws IOException {
    Configuration none = new Configuration(false);
    return OrcFile.createReader(
        new Path("/content.orc"),
        OrcFile.readerOptions(none)
            .filesystem(new OrcFileSystem(content))
            .useUTCTimestamp(true)
            .convertToProlepticGregorian(true));
  }

  private static boolean begins(RandomContent content) throws IOException {
    return content.size() >= 3 && Arrays.equals(content.bytes(0, 3), MAGIC);
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
    return Failure.file(path + (begins ? " is cut or damaged" : " is not an ORC file"))
        .because(
            begins
                ? "its end is not that of an ORC file of %,d bytes: %s".formatted(size, why)
                : "it does not begin with ORC")
        .hint(
            begins
                ? Hint.of("Nothing of it was loaded. Stage the file again, then load again")
                : Hint.of("Check which file was staged with {}", Invocation.of("peek")))
        .from(e);
  }
}
