package dev.dusky.core.source;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** Makes files of JSON lines, compressed as their names say. */
public final class JsonRowFiles implements RowFiles {

  @Override
  public List<String> endings() {
    return List.of(".jsonl", ".jsonl.zst", ".jsonl.gz");
  }

  @Override
  public RowFile create(String path, Path file, List<SourceColumn> columns) throws IOException {
    return new JsonRowFile(path, file, columns);
  }
}
