package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FeedColumn;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/** Columns given on the command line: {@code NAME=TYPE} or {@code NAME={key: value}}. */
public final class ColumnHints {

  private ColumnHints() {}

  /** Reads hints, or fails with what is wrong with one. */
  public static List<FeedColumn> read(List<String> hints) throws IOException {
    List<FeedColumn> columns = new ArrayList<>();
    for (String hint : hints) {
      int equals = hint.indexOf('=');
      if (equals < 1) {
        throw Failure.usage("'" + hint + "' is not a column")
            .hint("Write NAME=TYPE, such as farm_code=varchar(8)");
      }
      ConfigProblems problems = new ConfigProblems();
      String name = hint.substring(0, equals).strip();
      String value = hint.substring(equals + 1).strip();
      String yaml = value.startsWith("{") ? value : "'" + value.replace("'", "''") + "'";
      Node root = new YamlTree(problems).readText(name + ": " + yaml);
      if (root instanceof Node.Fields fields && fields.nodes().containsKey(name)) {
        Section block = new Section("columns", root, problems);
        columns.add(ColumnReader.read(name, fields.nodes().get(name), block, problems));
      }
      problems.failUsage("the column '" + hint + "'");
    }
    return columns;
  }
}
