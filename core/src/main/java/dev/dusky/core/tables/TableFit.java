package dev.dusky.core.tables;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.nested.NestedFit;
import dev.dusky.core.table.Provenance;
import dev.dusky.core.table.TableColumn;
import dev.dusky.core.table.TableShape;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Holds a feed's columns against an existing table's before the first byte is read. */
public final class TableFit {

  private TableFit() {}

  /** Everything that does not fit, a sentence each; empty if all does. */
  public static List<String> problems(Feed feed, TableShape table) {
    List<String> problems = new ArrayList<>();
    for (FeedColumn column : feed.columns()) {
      Optional<TableColumn> found = table.column(column.name());
      if (found.isEmpty()) {
        problems.add("column %s does not exist in the table".formatted(column.name()));
        continue;
      }
      TableColumn target = found.get();
      if (target.type().isPresent() && column.type().isNested()) {
        NestedFit.problem("column " + column.name(), target.type().get(), column.type())
            .ifPresent(problems::add);
      } else if (target.type().isEmpty() || !target.type().get().holds(column.type())) {
        problems.add(
            "column %s is %s in the table, which does not hold every %s of the feed"
                .formatted(column.name(), target.typeText(), column.type()));
      }
    }
    for (TableColumn target : table.columns()) {
      boolean fed =
          feed.columns().stream().anyMatch(c -> c.name().equals(target.name()))
              || table.hasProvenance() && Provenance.COLUMNS.contains(target.name());
      if (!fed && target.notNull() && !target.filled()) {
        problems.add(
            "column %s of the table is not null and has no default, and the feed does not fill it"
                .formatted(target.name()));
      }
    }
    return problems;
  }
}
