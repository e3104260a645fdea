package dev.dusky.core.bind;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.FieldNaming;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Which field of a record goes into which column of the feed, computed once for each file. */
public final class FieldPlan {

  private static final int ANY = -1;

  private final int[] positions;
  private final int expected;

  private FieldPlan(int[] positions, int expected) {
    this.positions = positions;
    this.expected = expected;
  }

  /** The position of a column's field in the record, from 0. */
  public int position(int column) {
    return positions[column];
  }

  /** How many fields a record should have. */
  int expected() {
    return expected;
  }

  /**
   * Settles the plan for one file.
   *
   * @param names the file's own column names, or none if columns go by position
   * @throws Failure of kind FILE if the file's columns are not those of the feed
   */
  public static FieldPlan of(Feed feed, String path, List<String> names) {
    List<FeedColumn> fields = FeedInputs.of(feed).fields();
    return switch (feed.layout().naming()) {
      case PATH -> inOrder(fields.size());
      case DECLARED -> byName(feed, fields, path, names);
      case HEADER -> {
        FieldPlan plan = byName(feed, fields, path, names);
        if (feed.policies().drift().isEmpty()) {
          plan.refuseUnknown(feed, path, names);
        }
        yield plan;
      }
      case POSITION -> byPosition(feed, fields);
    };
  }

  /** The reader was asked for each field: they come as they were asked for. */
  private static FieldPlan inOrder(int count) {
    int[] positions = new int[count];
    for (int i = 0; i < count; i++) {
      positions[i] = i;
    }
    return new FieldPlan(positions, ANY);
  }

  /** Whether the number of fields in a record says anything. */
  boolean counted() {
    return expected != ANY;
  }

  private static FieldPlan byPosition(Feed feed, List<FeedColumn> fields) {
    List<Integer> taken = new ArrayList<>();
    for (String ignored : feed.ignore()) {
      taken.add(Integer.parseInt(ignored));
    }
    for (FeedColumn column : fields) {
      if (column.from() instanceof FieldSource.At at) {
        taken.add(at.position());
      }
    }
    int[] positions = new int[fields.size()];
    int next = 1;
    for (int i = 0; i < positions.length; i++) {
      if (fields.get(i).from() instanceof FieldSource.At at) {
        positions[i] = at.position() - 1;
      } else {
        while (taken.contains(next)) {
          next++;
        }
        positions[i] = next++ - 1;
      }
    }
    int expected = 0;
    for (int position : positions) {
      expected = Math.max(expected, position + 1);
    }
    for (String ignored : feed.ignore()) {
      expected = Math.max(expected, Integer.parseInt(ignored));
    }
    return new FieldPlan(positions, expected);
  }

  private static FieldPlan byName(
      Feed feed, List<FeedColumn> fields, String path, List<String> names) {
    int[] positions = new int[fields.size()];
    List<String> missing = new ArrayList<>();
    for (int i = 0; i < positions.length; i++) {
      FeedColumn column = fields.get(i);
      int at =
          column.from() instanceof FieldSource.At position
              ? position.position() - 1
              : find(names, column.fieldName(), path);
      if (at < 0 || at >= names.size()) {
        missing.add(column.from() instanceof FieldSource.At p ? p.toString() : column.fieldName());
      } else {
        positions[i] = at;
      }
    }
    if (!missing.isEmpty()) {
      throw lacking(fields.size(), feed, path, names, missing);
    }
    return new FieldPlan(
        positions, feed.layout().naming() == FieldNaming.HEADER ? names.size() : ANY);
  }

  private void refuseUnknown(Feed feed, String path, List<String> names) {
    boolean[] used = new boolean[names.size()];
    for (int position : positions) {
      used[position] = true;
    }
    List<String> unknown = new ArrayList<>();
    for (int i = 0; i < used.length; i++) {
      if (!used[i] && !ignored(feed, names.get(i), i + 1)) {
        unknown.add(names.get(i));
      }
    }
    if (!unknown.isEmpty()) {
      throw Failure.file(path + " has columns that feed " + feed.name() + " does not know")
          .because(quoted(unknown))
          .hint("Add them to the feed's columns, or list them under ignore to leave them out");
    }
  }

  private static Failure lacking(
      int all, Feed feed, String path, List<String> names, List<String> missing) {
    if (missing.size() == all) {
      return Failure.file(path + " looks like a file of another feed than " + feed.name())
          .because(
              "none of the "
                  + missing.size()
                  + " columns expected is in its header, which reads "
                  + quoted(names))
          .hint("Check the feed's files pattern, the layout's delimiter, and what was staged");
    }
    return Failure.file(path + " lacks columns that feed " + feed.name() + " needs")
        .because(quoted(missing) + " not found in its header, which reads " + quoted(names))
        .hint("Ask the sender for the columns, or name the right ones with from: in the feed");
  }

  private static boolean ignored(Feed feed, String name, int position) {
    return feed.ignore().stream()
        .anyMatch(i -> i.equalsIgnoreCase(name) || i.equals(Integer.toString(position)));
  }

  private static int find(List<String> names, String wanted, String path) {
    int exact = names.indexOf(wanted);
    if (exact >= 0) {
      if (names.lastIndexOf(wanted) != exact) {
        throw Failure.file(path + " names column '" + wanted + "' twice in its header")
            .because("it is in fields " + (exact + 1) + " and " + (names.lastIndexOf(wanted) + 1))
            .hint("Say which one to take with from: and the field's position");
      }
      return exact;
    }
    for (int i = 0; i < names.size(); i++) {
      if (names.get(i).equalsIgnoreCase(wanted)) {
        return i;
      }
    }
    return -1;
  }

  private static String quoted(List<String> names) {
    String text =
        names.stream().limit(20).map(n -> "'" + n + "'").collect(Collectors.joining(", "));
    return names.size() > 20 ? text + " and " + (names.size() - 20) + " more" : text;
  }
}
