package dev.dusky.core.expect;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A list of files that belong together.
 *
 * @param name how messages name it
 * @param files the files by path, in the order of the list
 */
public record Manifest(String name, Map<String, Entry> files) {

  /**
   * One file.
   *
   * @param path its path in the depot
   * @param required whether nothing may be posted without it
   * @param size its stored size in bytes
   * @param sha256 the SHA-256 of its stored bytes in lower-case hexadecimal
   * @param rows how many records it has
   * @param totals the sums of columns over all its records
   */
  public record Entry(
      String path,
      boolean required,
      Optional<Long> size,
      Optional<String> sha256,
      Optional<Long> rows,
      Map<String, BigDecimal> totals) {

    /** The control figures among it. */
    public ControlFigures figures() {
      return new ControlFigures("the manifest", rows, totals);
    }
  }

  public Manifest {
    files = new LinkedHashMap<>(files);
  }

  /** The entry of a path. */
  public Optional<Entry> entry(String path) {
    return Optional.ofNullable(files.get(path));
  }

  /** The required files that are not among these. */
  public List<String> missing(java.util.Set<String> present, boolean required) {
    return files.values().stream()
        .filter(entry -> entry.required() == required && !present.contains(entry.path()))
        .map(Entry::path)
        .toList();
  }
}
