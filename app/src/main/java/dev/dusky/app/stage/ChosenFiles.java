package dev.dusky.app.stage;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.LocalFiles;
import java.io.IOException;
import java.nio.file.FileSystems;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import java.util.regex.PatternSyntaxException;

/**
 * Which files are staged, and where to.
 *
 * @param paths local files and directories
 * @param urls files elsewhere
 * @param under the folder in the depot, or an empty text
 * @param include globs of which a file must match one, unless there is none
 * @param exclude globs of which it must match none
 */
public record ChosenFiles(
    List<Path> paths, List<String> urls, String under, List<String> include, List<String> exclude) {

  /** Finds them, in the order of their paths in the depot. */
  List<LocalFile> find(RemoteFiles elsewhere) throws IOException {
    Predicate<Path> included = any(include);
    Predicate<Path> excluded = any(exclude);
    Predicate<Path> wanted =
        file -> (include.isEmpty() || included.test(file)) && !excluded.test(file);
    List<LocalFile> files = new ArrayList<>(LocalFiles.find(paths, under, wanted));
    files.addAll(elsewhere.find(urls, under, wanted));
    return LocalFiles.sorted(files);
  }

  /** Matches paths below the directory that was named, or only names where a glob has no slash. */
  private static Predicate<Path> any(List<String> globs) {
    List<Predicate<Path>> all = globs.stream().map(ChosenFiles::one).toList();
    return file -> all.stream().anyMatch(glob -> glob.test(file));
  }

  private static Predicate<Path> one(String glob) {
    try {
      PathMatcher matcher = FileSystems.getDefault().getPathMatcher("glob:" + glob);
      return file -> matcher.matches(glob.contains("/") ? file : file.getFileName());
    } catch (PatternSyntaxException e) {
      throw Failure.usage("'" + glob + "' is not a pattern for file names")
          .because(e.getDescription())
          .hint("Write one such as '*.csv' or 'daily/**/*.csv', in quotes")
          .from(e);
    }
  }
}
