package dev.dusky.core.stage;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Which files are in the depot before a staging. For many files one listing of the folder that they
 * have in common answers; for few, or where that folder holds much else, each is looked at.
 */
final class FilesThere {

  /** For fewer files than this a listing is not worth its request. */
  private static final int LEAST = 4;

  /** How many other files a listing may pass for each one sought. */
  private static final int MOST_OTHERS = 10;

  private static final int PAGE = 1_000;

  private final Depot depot;
  private final Map<String, StagedFile> found = new HashMap<>();
  private boolean whole;

  FilesThere(Depot depot, List<LocalFile> sorted) {
    this.depot = depot;
    if (sorted.size() >= LEAST) {
      list(sorted);
    }
  }

  private void list(List<LocalFile> sorted) {
    Set<String> wanted = new HashSet<>();
    sorted.forEach(file -> wanted.add(file.path()));
    String first = sorted.get(0).path();
    String last = sorted.get(sorted.size() - 1).path();
    int common = 0;
    while (common < Math.min(first.length(), last.length())
        && first.charAt(common) == last.charAt(common)) {
      common++;
    }
    // A prefix that ends in the middle of a name is none for directories.
    Iterator<StagedFile> files =
        depot.list(first.substring(0, first.lastIndexOf('/', common - 1) + 1));
    long most = PAGE + (long) MOST_OTHERS * sorted.size();
    for (long passed = 0; files.hasNext(); passed++) {
      if (passed == most) {
        return;
      }
      StagedFile file = files.next();
      if (wanted.contains(file.path())) {
        found.put(file.path(), file);
      }
    }
    whole = true;
  }

  Optional<StagedFile> look(String path) {
    StagedFile file = found.get(path);
    return file != null || whole ? Optional.ofNullable(file) : depot.look(path);
  }
}
