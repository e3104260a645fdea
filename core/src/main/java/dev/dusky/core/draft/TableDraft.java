package dev.dusky.core.draft;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import java.util.List;
import java.util.Optional;

/**
 * The guesses for one kind of content, before they are tried on the sample.
 *
 * @param name the feed's and the table's name
 * @param layout the layout
 * @param columns the columns
 * @param ignore fields to be ignored
 * @param evidence why it is so
 * @param paths for nested data: all paths
 * @param leftOut paths without a column
 */
record TableDraft(
    String name,
    Layout layout,
    List<ColumnDraft> columns,
    List<String> ignore,
    List<Evidence> evidence,
    Optional<PathStatistics> paths,
    List<String> leftOut) {

  /** A sample's bytes as far as they can be read as whole records. */
  static byte[] readable(Layout layout, FileSample sample) {
    boolean lines =
        layout instanceof DelimitedLayout
            || layout instanceof FixedLayout
            || layout instanceof JsonLayout json && json.records().isEmpty();
    return lines ? sample.lines() : sample.head();
  }
}
