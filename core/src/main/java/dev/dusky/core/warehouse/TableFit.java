package dev.dusky.core.warehouse;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
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
      if (target.type().isEmpty() || !holds(target.type().get(), column.type())) {
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

  /** Whether every value of {@code value} is, unchanged, a value of {@code holder}. */
  public static boolean holds(SqlType holder, SqlType value) {
    TypeKind kind = holder.kind();
    return switch (value.kind()) {
      case SMALLINT, INTEGER, BIGINT -> kind.isInteger() && kind.compareTo(value.kind()) >= 0;
      case DECIMAL ->
          kind == TypeKind.DECIMAL
              && (holder.precision() == 0
                  || holder.scale() >= value.scale()
                      && holder.precision() - holder.scale() >= value.precision() - value.scale());
      case REAL -> kind == TypeKind.REAL || kind == TypeKind.DOUBLE;
      case CHAR, VARCHAR -> kind.isText() && longEnough(holder, value);
      case TEXT -> kind.isText() && kind != TypeKind.CHAR && holder.length() == 0;
      case BINARY -> kind == TypeKind.BINARY && longEnough(holder, value);
      default -> kind == value.kind();
    };
  }

  private static boolean longEnough(SqlType holder, SqlType value) {
    return holder.length() == 0 || value.length() > 0 && holder.length() >= value.length();
  }
}
