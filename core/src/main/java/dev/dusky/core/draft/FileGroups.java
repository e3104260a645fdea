package dev.dusky.core.draft;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.record.FieldRequest;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * The files of a depot by the feeds that they could be of: by folder and name first, then by what
 * is in them, so that files of several shapes in one folder become several feeds.
 *
 * @param groups the files under the name of their feed
 * @param left files that their own pattern takes, with the group whose pattern takes them
 */
public record FileGroups(Map<String, List<StagedFile>> groups, Map<String, String> left) {

  /** The bytes of a file from which its shape is inferred. */
  private static final int HEAD = 32 << 10;

  /** The number of differently named files per folder whose contents are examined. */
  private static final int MOST_LOOKS = 200;

  /** Groups files of a depot. */
  public static FileGroups of(Depot depot, List<StagedFile> files) {
    Map<String, StagedFile> byPath = new LinkedHashMap<>();
    files.forEach(file -> byPath.put(file.path(), file));
    Map<String, List<String>> groups = new LinkedHashMap<>();
    PatternGuess.groups(List.copyOf(byPath.keySet()))
        .forEach(
            (name, paths) -> {
              List<List<String>> shapes = shapes(depot, byPath, paths);
              for (List<String> shape : shapes) {
                put(groups, shapes.size() == 1 ? name : PatternGuess.name(shape.get(0)), shape);
              }
            });
    return apart(groups, byPath);
  }

  private static void put(Map<String, List<String>> groups, String name, List<String> paths) {
    String unique = name;
    for (int n = 2; groups.containsKey(unique); n++) {
      unique = name + "_" + n;
    }
    groups.put(unique, paths);
  }

  /** The paths of one folder and extension by the shape of their content. */
  private static List<List<String>> shapes(
      Depot depot, Map<String, StagedFile> byPath, List<String> paths) {
    Map<String, List<String>> alike = new LinkedHashMap<>();
    for (String path : paths) {
      alike.computeIfAbsent(PatternGuess.letters(path), k -> new ArrayList<>()).add(path);
    }
    if (alike.size() == 1 || alike.size() > MOST_LOOKS) {
      return List.of(paths);
    }
    Map<String, List<String>> shapes = new LinkedHashMap<>();
    for (List<String> cluster : alike.values()) {
      String shape = shape(depot, byPath.get(cluster.get(0)));
      shapes.computeIfAbsent(shape, k -> new ArrayList<>()).addAll(cluster);
    }
    List<List<String>> result = new ArrayList<>();
    for (List<String> shape : shapes.values()) {
      if (shapes.size() > 1 && takesOthers(shape, paths)) {
        // One pattern for all of them would take files of another shape: a pattern for each name.
        alike.values().stream().filter(shape::containsAll).forEach(result::add);
      } else {
        result.add(shape);
      }
    }
    return result;
  }

  private static boolean takesOthers(List<String> shape, List<String> all) {
    FilePattern pattern = FilePattern.of(PatternGuess.pattern(shape));
    return all.stream().anyMatch(path -> !shape.contains(path) && pattern.matches(path));
  }

  /**
   * The properties by which files cannot be of one feed: kind, delimiter, names or number of
   * fields.
   */
  private static String shape(Depot depot, StagedFile file) {
    try {
      FileSample sample = FileSample.of(depot, file, HEAD);
      ContentKind kind = ContentKind.of(sample.head());
      if (kind != ContentKind.TEXT) {
        return kind.name();
      }
      Encoding found = ContentKind.encoding(sample.head());
      Encoding encoding = found == null ? Encoding.UTF_8 : found;
      Optional<DelimitedLayout> layout = new DelimitedGuess(sample.lines(), encoding).guess();
      if (layout.isEmpty()) {
        return "lines";
      }
      TextTable table =
          TextTable.read(sample.lines(), layout.get(), FieldRequest.of(List.of()), 100);
      return layout.get().header() == HeaderUse.NAMES
          ? String.join("|", table.names()).toLowerCase(Locale.ROOT)
          : layout.get().delimiter() + table.width();
    } catch (IOException | RuntimeException e) {
      return "unreadable"; // its draft says why
    }
  }

  /** Files that the pattern of another group takes are left out: no file may be of two feeds. */
  private static FileGroups apart(
      Map<String, List<String>> groups, Map<String, StagedFile> byPath) {
    Map<String, FilePattern> patterns = new LinkedHashMap<>();
    groups.forEach(
        (name, paths) -> patterns.put(name, FilePattern.of(PatternGuess.pattern(paths))));
    Map<String, List<StagedFile>> apart = new LinkedHashMap<>();
    Map<String, String> left = new LinkedHashMap<>();
    groups.forEach(
        (name, paths) -> {
          for (String path : paths) {
            Optional<String> other =
                patterns.entrySet().stream()
                    .filter(entry -> !entry.getKey().equals(name))
                    .filter(entry -> apart.containsKey(entry.getKey()))
                    .filter(entry -> entry.getValue().matches(path))
                    .map(Map.Entry::getKey)
                    .findFirst();
            if (other.isPresent()) {
              left.put(path, other.get());
            } else {
              apart.computeIfAbsent(name, k -> new ArrayList<>()).add(byPath.get(path));
            }
          }
        });
    return new FileGroups(apart, left);
  }
}
