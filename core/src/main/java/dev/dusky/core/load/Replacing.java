package dev.dusky.core.load;

import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.LoadMode;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.ledger.PostedRows;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The state of a replacement before it is decided: what was taken out, and what came in its place.
 *
 * @param files the feed's pattern of paths
 * @param postings the postings whose rows were taken out
 * @param rowsBefore how many rows were taken out
 * @param results the files of the load
 */
record Replacing(
    FilePattern files, List<PostedRows> postings, long rowsBefore, List<FileResult> results) {

  /** How many files had the rows that were taken out. */
  long filesBefore() {
    return postings.stream().filter(p -> !p.twin()).map(PostedRows::fileId).distinct().count();
  }

  /** Why nothing may be replaced, if there is a reason. */
  Optional<String> fault(LoadMode.Replace mode) {
    List<FileResult> refused =
        results.stream().filter(result -> result.state() == FileState.REFUSED).toList();
    if (!refused.isEmpty()) {
      return Optional.of(
          "not loaded, since %s of the same load %s refused, and the load replaces all or nothing"
              .formatted(
                  refused.size() == 1
                      ? refused.get(0).file().path()
                      : refused.size() + " other files",
                  refused.size() == 1 ? "is" : "are"));
    }
    return shrinking(mode);
  }

  private Optional<String> shrinking(LoadMode.Replace mode) {
    Map<String, long[]> slices = new TreeMap<>();
    for (PostedRows posted : postings) {
      of(slices, mode, posted.path())[0] += posted.loaded();
    }
    for (FileResult result : results) {
      of(slices, mode, result.file().path())[1] += result.tally().loaded();
    }
    if (mode.by().isEmpty()) {
      slices.values().forEach(rows -> rows[0] = rowsBefore); // those of no posting included
    }
    return slices.entrySet().stream()
        .filter(slice -> !mode.allows(slice.getValue()[0], slice.getValue()[1]))
        .findFirst()
        .map(slice -> shrinking(mode, slice.getKey(), slice.getValue()));
  }

  private long[] of(Map<String, long[]> slices, LoadMode.Replace mode, String path) {
    return slices.computeIfAbsent(mode.label(mode.slice(files, path)), name -> new long[2]);
  }

  private static String shrinking(LoadMode.Replace mode, String slice, long[] rows) {
    return "%s would shrink from %,d to %,d rows, by %.1f %%, and at most %d %% is allowed; set at-most in the feed's mode if that is right"
        .formatted(
            slice.isEmpty() ? "the table" : "the slice " + slice,
            rows[0],
            rows[1],
            (rows[0] - rows[1]) * 100.0 / rows[0],
            mode.atMost());
  }

  /** The results if nothing is replaced. */
  List<FileResult> refused(String why) {
    return results.stream()
        .map(result -> result.state() == FileState.REFUSED ? result : result.refusedFor(why))
        .toList();
  }
}
