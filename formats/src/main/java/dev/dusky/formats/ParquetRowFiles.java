package dev.dusky.formats;

import dev.dusky.core.source.RowFile;
import dev.dusky.core.source.RowFiles;
import dev.dusky.core.source.SourceColumn;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** Makes Parquet files. */
public final class ParquetRowFiles implements RowFiles {

  @Override
  public List<String> endings() {
    return List.of(".parquet");
  }

  @Override
  public RowFile create(String path, Path file, List<SourceColumn> columns) throws IOException {
    return new ParquetRowFile(file, columns);
  }
}
