package dev.dusky.warehouses.script;

import dev.dusky.core.table.TableName;
import java.util.Collection;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;

/** The small words that statements are made of. */
final class ScratchNames {

  /** The scratch table of the landed rows, made unique, each with its outcome. */
  static final String BATCH = "dusky_batch";

  /** The sequence that counts the keys that one pass sets aside. */
  static final String ASIDE = "dusky_aside";

  /** The sequence that counts the rows of the target that one pass leaves unchanged. */
  static final String SAME = "dusky_same";

  /** The sequence that counts the landed rows that are older than the target's in one pass. */
  static final String OLDER = "dusky_older";

  /** The scratch table of the posted files that are merged. */
  static final String TAKEN = "dusky_taken";

  /** The scratch table of keys whose latest row cannot be determined. */
  static final String TIED = "dusky_tied";

  /** The scratch table of keys that the target has more than once. */
  static final String TWICE = "dusky_twice";

  /** The scratch table of moments at which keys ended, by rows that were merged before. */
  static final String ENDED = "dusky_ended_before";

  /** The scratch table of what happens to each key of a history, moment by moment. */
  static final String EVENT = "dusky_event";

  /** The scratch table of the versions that a history should have. */
  static final String VERSION = "dusky_version";

  /** The scratch table of what each landed row of a history comes to. */
  static final String OUTCOME = "dusky_outcome_of";

  private ScratchNames() {}

  /** The name in double quotes, so that reserved words are names too. */
  static String quote(String name) {
    return '"' + name.replace("\"", "\"\"") + '"';
  }

  static String quote(TableName table) {
    return quote(table.schema()) + "." + quote(table.table());
  }

  /** A column of an alias. */
  static String column(String alias, String name) {
    return alias + "." + quote(name);
  }

  static String text(String value) {
    return "'" + value.replace("'", "''") + "'";
  }

  static <T> String each(Collection<T> items, String between, Function<T, String> form) {
    return items.stream().map(form).collect(Collectors.joining(between));
  }

  /** The names behind an alias, with commas. */
  static String list(String alias, List<String> names) {
    return each(names, ", ", name -> column(alias, name));
  }

  /** Whether two aliases agree in all these columns, none of which is null. */
  static String same(String one, String other, List<String> names) {
    return each(names, " and ", name -> column(one, name) + " = " + column(other, name));
  }

  /** A value in a form that can be compared: JSON as its text. */
  static String comparable(String alias, MergePlan.Column column) {
    String value = column(alias, column.name());
    return column.json() ? "cast(" + value + " as varchar)" : value;
  }

  /** Whether two aliases differ in any of these columns, null being a value like any other. */
  static String differ(String one, String other, Collection<MergePlan.Column> columns) {
    return columns.isEmpty()
        ? "false"
        : "("
            + each(
                columns,
                "\n        or ",
                c -> comparable(one, c) + " is distinct from " + comparable(other, c))
            + ")";
  }
}
