package dev.dusky.core.record;

import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.JsonLayout;
import java.util.ArrayList;
import java.util.List;

/**
 * Where a feed's fields are in JSON records, computed once.
 *
 * @param levels the paths of the arrays whose elements become rows, each from the element before it
 * @param firstNames for each level the members that its fields' paths begin with
 * @param fields the fields in order
 * @param emptyRows what becomes of empty arrays
 * @param carried how many values are carried from the document onto its records
 */
public record JsonPlan(
    List<JsonPath> levels,
    List<List<String>> firstNames,
    List<Field> fields,
    EmptyRows emptyRows,
    int carried) {

  /**
   * One field.
   *
   * @param level 0 for the record itself, else the array whose element it is sought in
   * @param path its path from there; null for all that no other field asks for
   * @param slot which of its level's {@link #firstNames} the path begins with, or -1
   * @param rest the path behind that name, or all of it; null if nothing is left
   * @param json whether it is wanted as JSON text
   * @param carried the number of the carried value that it is, or -1
   */
  record Field(int level, JsonPath path, int slot, JsonPath rest, boolean json, int carried) {}

  /**
   * Settles the plan.
   *
   * @throws IllegalArgumentException if a path is none, or cannot be used for rows
   */
  public static JsonPlan of(JsonLayout layout, FieldRequest request) {
    List<Segment> rows = layout.rows().map(JsonPlan::rowSegments).orElse(List.of());
    List<JsonPath> levels = new ArrayList<>();
    List<Integer> ends = new ArrayList<>();
    int from = 0;
    for (int i = 0; i < rows.size(); i++) {
      if (rows.get(i).wildcard()) {
        levels.add(JsonPath.of("the rows of " + layout.rows().get(), rows.subList(from, i)));
        ends.add(i + 1);
        from = i + 1;
      }
    }
    List<List<String>> firstNames = new ArrayList<>();
    for (int i = 0; i <= levels.size(); i++) {
      firstNames.add(new ArrayList<>());
    }
    List<Field> fields = new ArrayList<>();
    for (FieldRequest.Field wanted : request.fields()) {
      if (wanted.path().equals(FieldRequest.REST)) {
        fields.add(new Field(0, null, -1, null, true, -1));
        continue;
      }
      int carried = layout.carry().indexOf(wanted.path());
      JsonPath path = path(wanted.path());
      boolean named = !wanted.path().startsWith("$");
      int level = named ? levels.size() : 0;
      int dropped = 0;
      for (int i = 0; !named && i < ends.size(); i++) {
        if (startsWith(path.segments(), rows.subList(0, ends.get(i)))) {
          level = i + 1;
          dropped = ends.get(i);
        }
      }
      List<Segment> rest = path.segments().subList(dropped, path.segments().size());
      JsonPath relative = dropped == 0 ? path : JsonPath.of(wanted.path(), rest);
      fields.add(field(level, relative, wanted, carried, firstNames.get(level)));
    }
    return new JsonPlan(levels, firstNames, fields, layout.emptyRows(), layout.carry().size());
  }

  private static Field field(
      int level, JsonPath path, FieldRequest.Field wanted, int carried, List<String> firstNames) {
    List<Segment> all = path.segments();
    int slot = -1;
    if (path.singular()
        && carried < 0
        && !all.isEmpty()
        && all.get(0).selectors().get(0) instanceof JsonPath.Name first) {
      if (!firstNames.contains(first.name())) {
        firstNames.add(first.name());
      }
      slot = firstNames.indexOf(first.name());
    }
    List<Segment> behind = slot < 0 ? all : all.subList(1, all.size());
    JsonPath rest = behind.isEmpty() ? null : JsonPath.of(path.toString(), behind);
    return new Field(level, path, slot, rest, wanted.json(), carried);
  }

  private static boolean startsWith(List<Segment> path, List<Segment> prefix) {
    return path.size() >= prefix.size() && path.subList(0, prefix.size()).equals(prefix);
  }

  private static JsonPath path(String text) {
    return text.startsWith("$") ? JsonPath.parse(text) : JsonPath.member(text);
  }

  /** Whether every field of the record itself is sought in a member of it. */
  boolean members() {
    boolean any = false;
    for (Field field : fields) {
      if (field.path() != null && field.level() == 0 && field.carried() < 0) {
        List<Segment> path = field.path().segments();
        any = true;
        if (path.isEmpty()
            || path.get(0).descendant()
            || !(path.get(0).selectors().get(0) instanceof JsonPath.Name)) {
          return false;
        }
      }
    }
    return any;
  }

  /** The segments of a path of rows, with a wildcard at its end. */
  private static List<Segment> rowSegments(String text) {
    List<Segment> segments = new ArrayList<>(JsonPath.parse(text).segments());
    for (Segment segment : segments) {
      if (!segment.singular() && !segment.wildcard()) {
        throw new IllegalArgumentException(
            "'" + text + "' cannot give rows: only names, indices and [*] may be in it");
      }
    }
    if (segments.isEmpty() || !segments.get(segments.size() - 1).wildcard()) {
      segments.add(new Segment(false, List.of(new JsonPath.Wildcard())));
    }
    return segments;
  }
}
