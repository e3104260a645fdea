package dev.dusky.core.feed;

import java.util.List;
import java.util.Map;

/** What a load does to its landing table. */
public sealed interface LoadMode {

  /** Rows are added. */
  LoadMode APPEND = new Append();

  /** The default of the percentage of rows that a table may lose. */
  int DEFAULT_AT_MOST = 20;

  /** Rows are added. */
  record Append() implements LoadMode {}

  /**
   * The load's files take the place of what is there, all in one transaction.
   *
   * @param by the captures of the files' paths by which the table has slices; only slices that the
   *     files name are replaced. Without any, the files become the whole table
   * @param atMost how many percent of its rows a slice, or the table, may lose; 0 to 100
   */
  record Replace(List<String> by, int atMost) implements LoadMode {

    /** The slice that a file belongs to: the values of the captures. */
    public List<String> slice(FilePattern files, String path) {
      Map<String, String> captures = files.captures(path);
      return by.stream().map(name -> captures.getOrDefault(name, "")).toList();
    }

    /** The slice for people; empty if it is the whole table. */
    public String label(List<String> slice) {
      StringBuilder text = new StringBuilder();
      for (int i = 0; i < by.size(); i++) {
        text.append(i == 0 ? "" : ", ").append(by.get(i)).append(' ').append(slice.get(i));
      }
      return text.toString();
    }

    /** Whether that number of rows may come in place of those before. */
    public boolean allows(long before, long after) {
      return after >= before || (before - after) * 100.0 <= (double) atMost * before;
    }
  }
}
