package dev.dusky.lake;

import dev.dusky.core.table.TableColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.lake.engine.EngineTurn;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Statements that may be inserts which name columns. The engine wants a value for every column of
 * the table; those that are not named get null, as SQL has it.
 */
final class WholeInsert {

  private static final Pattern INSERT =
      Pattern.compile(
          "\\s*insert\\s+into\\s+(\\S+)\\s*\\(([^()]*)\\)\\s*((?:select|values|with)\\b.*)",
          Pattern.DOTALL | Pattern.CASE_INSENSITIVE);

  private WholeInsert() {}

  /** Runs a statement; returns how many rows the tables have more than before. */
  static long run(EngineTurn turn, String sql) {
    Matcher insert = INSERT.matcher(sql);
    return turn.run(insert.matches() ? whole(turn, insert) : sql);
  }

  private static String whole(EngineTurn turn, Matcher insert) {
    List<TableColumn> columns = turn.shape("select * from " + insert.group(1) + " where false");
    List<String> given = List.of(insert.group(2).replace("\"", "").strip().split("\\s*,\\s*"));
    String values =
        columns.stream().map(column -> value(column, given)).collect(Collectors.joining(", "));
    return "insert into %s\nselect %s from (\n%s\n) dusky_rows (%s)"
        .formatted(insert.group(1), values, insert.group(3), insert.group(2));
  }

  private static String value(TableColumn column, List<String> given) {
    return given.stream().anyMatch(name -> name.equalsIgnoreCase(column.name()))
        ? "\"" + column.name() + "\""
        : "cast(null as %s)".formatted(column.type().map(SqlType::toString).orElse("varchar"));
  }
}
