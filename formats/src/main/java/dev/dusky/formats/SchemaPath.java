package dev.dusky.formats;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.record.FieldRequest;
import java.util.ArrayList;
import java.util.List;

/**
 * A path asked for in a format with a schema: names that lead through records, and what is left to
 * be sought in the JSON of the value they lead to.
 *
 * @param text the path as declared
 * @param names the names, outermost first
 * @param rest the path from there, empty if the names lead to the value itself
 */
record SchemaPath(String text, List<String> names, List<Segment> rest) {

  static SchemaPath of(String path) {
    if (!path.startsWith("$")) {
      return new SchemaPath(path, List.of(path), List.of());
    }
    List<Segment> segments = JsonPath.parse(path).segments();
    List<String> names = new ArrayList<>();
    for (Segment segment : segments) {
      if (!segment.singular() || !(segment.selectors().get(0) instanceof JsonPath.Name name)) {
        break;
      }
      names.add(name.name());
    }
    return new SchemaPath(path, names, segments.subList(names.size(), segments.size()));
  }

  /** The same path when only the first names lead through records. */
  SchemaPath stoppingAfter(int count) {
    List<Segment> left = new ArrayList<>();
    for (String name : names.subList(count, names.size())) {
      left.add(new Segment(false, List.of(new JsonPath.Name(name))));
    }
    left.addAll(rest);
    return new SchemaPath(text, names.subList(0, count), left);
  }

  /** The rest of the path. */
  JsonPath restPath() {
    return JsonPath.of(text, rest);
  }

  /**
   * The name among {@code known} that is meant: the same, or the same but for its letters' case.
   */
  static String match(String wanted, List<String> known) {
    if (known.contains(wanted)) {
      return wanted;
    }
    return known.stream().filter(name -> name.equalsIgnoreCase(wanted)).findFirst().orElse(null);
  }

  /** Fails because the file lacks columns. */
  static Failure missing(String path, List<String> missing, List<String> known, FieldRequest all) {
    String names = String.join("', '", known.subList(0, Math.min(30, known.size())));
    if (missing.size() == all.fields().size() && !missing.isEmpty()) {
      return Failure.file(path + " looks like a file of another feed")
          .because(
              "none of the %d columns expected is in it; it has '%s'"
                  .formatted(missing.size(), names))
          .hint("Check the feed's files pattern and what was staged");
    }
    return Failure.file(path + " lacks columns that the feed needs")
        .because("'%s' not found; it has '%s'".formatted(String.join("', '", missing), names))
        .hint("Ask the sender for the columns, or name the right ones with from: in the feed");
  }
}
