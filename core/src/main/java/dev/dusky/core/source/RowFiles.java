package dev.dusky.core.source;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.ServiceLoader;

/** Makes files of one kind. Implementations are found with {@link ServiceLoader}. */
public interface RowFiles {

  /** The endings of the paths that it serves, such as {@code .jsonl}. */
  List<String> endings();

  /**
   * Makes a file.
   *
   * @param path its path in the depot, which says how it is compressed
   */
  RowFile create(String path, Path file, List<SourceColumn> columns) throws IOException;

  /** Whether there is a kind of files for that path. */
  static boolean known(String path) {
    return ServiceLoader.load(RowFiles.class).stream().anyMatch(p -> p.get().serves(path));
  }

  /** The kind of files for that path. */
  static RowFiles of(String path) {
    return ServiceLoader.load(RowFiles.class).stream()
        .map(ServiceLoader.Provider::get)
        .filter(files -> files.serves(path))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("no files end like " + path));
  }

  /** Whether it makes the files of that path. */
  default boolean serves(String path) {
    String lower = path.toLowerCase(Locale.ROOT);
    return endings().stream().anyMatch(lower::endsWith);
  }
}
