package dev.dusky.core.stage;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Finds the local files that a staging means. */
public final class LocalFiles {

  private LocalFiles() {}

  /**
   * The files named, and those below the directories named, in the order of their depot paths.
   *
   * @param under the folder in the depot that they go to, or an empty string
   * @param wanted says of each file, by its path below the directory that was named, whether it is
   *     meant
   */
  public static List<LocalFile> find(List<Path> paths, String under, Predicate<Path> wanted) {
    String prefix = folder(under);
    List<LocalFile> result = new ArrayList<>();
    for (Path path : paths) {
      try {
        if (Files.isDirectory(path)) {
          below(path, prefix, wanted, result);
        } else if (Files.isRegularFile(path)) {
          if (wanted.test(path.getFileName())) {
            result.add(LocalFile.of(path, prefix + path.getFileName()));
          }
        } else {
          throw Failure.usage("There is no file or directory " + path);
        }
      } catch (IOException e) {
        throw Failure.usage("Reading " + path + " failed")
            .because(String.valueOf(e.getMessage()))
            .from(e);
      }
    }
    return sorted(result);
  }

  /** The files in the order of their depot paths, each of which only one may have. */
  public static List<LocalFile> sorted(List<LocalFile> files) {
    refuseClashes(files);
    List<LocalFile> result = new ArrayList<>(files);
    result.sort(Comparator.comparing(LocalFile::path));
    return result;
  }

  /** A folder in a depot as paths below it begin: empty, or ending in a slash. */
  public static String folder(String under) {
    String folder = under.replaceAll("^/+|/+$", "");
    if (Stream.of(folder.split("/")).anyMatch(n -> n.equals("..") || n.equals("."))) {
      throw Failure.usage("'" + under + "' is not a folder in a depot")
          .because("paths in a depot have no . and .. in them")
          .hint("Write the folder as it is listed, such as daily/collections");
    }
    return folder.isEmpty() ? "" : folder + "/";
  }

  private static void below(
      Path directory, String prefix, Predicate<Path> wanted, List<LocalFile> result)
      throws IOException {
    try (Stream<Path> files = Files.walk(directory)) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        Path relative = directory.relativize(file);
        boolean hidden =
            Stream.of(relative.toString().split("[/\\\\]")).anyMatch(n -> n.startsWith("."));
        if (!hidden && wanted.test(relative)) {
          result.add(LocalFile.of(file, prefix + relative.toString().replace('\\', '/')));
        }
      }
    }
  }

  private static void refuseClashes(List<LocalFile> files) {
    Map<String, String> byPath = new HashMap<>();
    for (LocalFile file : files) {
      String other = byPath.put(file.path(), file.shown());
      if (other != null) {
        throw Failure.usage("Two files would become " + file.path())
            .because(other + " and " + file.shown())
            .hint("Stage them one at a time with different --under folders");
      }
    }
  }
}
