package dev.dusky.app.config;

import dev.dusky.core.merge.DeleteMarker;
import dev.dusky.core.merge.ExistingPolicy;
import dev.dusky.core.merge.GoneKeys;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Lookup.Unknown;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.merge.MergeOrder;
import dev.dusky.core.merge.MergeSource;
import dev.dusky.core.merge.SnapshotPolicy;
import dev.dusky.core.table.TableName;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads the merges, and what they say of one another. */
final class MergeReader {

  private static final Pattern SHARE = Pattern.compile("(\\d{1,3}(?:\\.\\d{1,6})?)\\s*%");
  private static final Pattern COLUMN = Pattern.compile("[a-z_][a-z0-9_]{0,62}");

  private final ConfigProblems problems;
  private final MergeTimings timings;

  /**
   * A reader.
   *
   * @param timings takes what merges say of when they run
   */
  MergeReader(ConfigProblems problems, MergeTimings timings) {
    this.problems = problems;
    this.timings = timings;
  }

  /** Reads all merges; dimensions first, since lookups take their history from them. */
  Map<String, Merge> read(Map<String, Node> nodes) {
    Map<String, Merge> dimensions = new LinkedHashMap<>();
    ConfigProblems unheard = new ConfigProblems();
    nodes.forEach(
        (name, node) ->
            dimensions.put(
                name, new MergeReader(unheard, new MergeTimings()).merge(name, node, Map.of())));
    Map<String, Merge> merges = new LinkedHashMap<>();
    nodes.forEach((name, node) -> merges.put(name, merge(name, node, dimensions)));
    merges.forEach(
        (name, merge) ->
            merge.after().stream()
                .filter(other -> !merges.containsKey(other))
                .forEach(
                    other ->
                        problems.add(
                            nodes.get(name).line(),
                            "merge %s comes after '%s', which is not declared"
                                .formatted(name, other))));
    new MergeOrder(merges)
        .circle()
        .ifPresent(
            circle ->
                problems.add(
                    nodes.get(circle.get(0)).line(),
                    "merges depend on one another in a cycle: " + String.join(" -> ", circle)));
    return merges;
  }

  private Merge merge(String name, Node node, Map<String, Merge> dimensions) {
    Section section = new Section("merge " + name, node, problems);
    if (!name.matches("[A-Za-z][A-Za-z0-9_-]{0,62}")) {
      problems.add(
          node.line(),
          "'%s' is not a name for a merge: use letters, digits, hyphens and underscores"
              .formatted(name));
    }
    ExistingPolicy existing = existing(section);
    boolean history = existing instanceof ExistingPolicy.History;
    Optional<DeleteMarker> deleted =
        section.node("deleted").map(n -> deleted(section.section("deleted", n), history));
    Optional<SnapshotPolicy> missing =
        section.node("missing").map(n -> missing(section.section("missing", n), history));
    List<String> totals = section.texts("totals").orElse(List.of());
    if (history && !totals.isEmpty()) {
      section.problem("totals", "a target with history has no stable sums: remove totals");
    }
    List<String> key = names(section, "key");
    if (!section.has("key")) {
      problems.add(section.line(), "merge " + name + " needs the key 'key'");
    }
    Merge merge =
        new Merge(
            name,
            source(section),
            table(section, "into"),
            section.flag("create", false),
            key.isEmpty() ? List.of("none") : key,
            names(section, "latest-by"),
            columns(section),
            existing,
            deleted,
            missing,
            column(section, "surrogate"),
            column(section, "placeholder"),
            lookups(section, dimensions),
            column(section, "newer"),
            totals,
            timings.after(name, section));
    boolean unsummed = merge.source() instanceof MergeSource.Query || merge.newer().isPresent();
    if (!totals.isEmpty() && unsummed) {
      section.problem(
          "totals",
          "totals need a landing table that is merged completely: remove query and newer");
    }
    boolean own =
        merge.source() instanceof MergeSource.Landing landing
            && landing.table().equals(merge.into());
    if (own && section.has("from")) {
      section.problem("into", "a merge cannot go into its own source: name another table");
    }
    boolean ends =
        deleted.filter(d -> d.then() == GoneKeys.END).isPresent()
            || missing.filter(m -> m.then() == GoneKeys.END).isPresent();
    if (ends && !history && merge.latestBy().isEmpty()) {
      section.problem(
          section.has("deleted") ? "deleted" : "missing",
          "then: end writes a time: name its column first under latest-by");
    }
    section.done();
    return merge;
  }

  private MergeSource source(Section section) {
    Optional<String> query = section.text("query");
    boolean from = section.has("from");
    if (query.isPresent() == from) {
      problems.add(
          section.line(), "a merge takes its rows either 'from' a landing table or by a 'query'");
    }
    if (query.isPresent()) {
      return new MergeSource.Query(query.get());
    }
    return new MergeSource.Landing(table(section, "from"));
  }

  private static TableName table(Section section, String key) {
    String text = key.equals("from") ? section.text(key).orElse("") : section.required(key);
    Optional<TableName> table = TableName.parse(text);
    if (table.isEmpty() && !text.isEmpty()) {
      section.problem(key, "'" + text + "' is not a table name: write schema.table");
    }
    return table.orElse(new TableName("public", "none"));
  }

  private static List<String> names(Section section, String key) {
    List<String> names = section.texts(key).orElse(List.of());
    names.forEach(name -> checkColumn(section, key, name));
    return names;
  }

  private static Optional<String> column(Section section, String key) {
    Optional<String> name = section.text(key);
    name.ifPresent(n -> checkColumn(section, key, n));
    return name;
  }

  private static void checkColumn(Section section, String key, String name) {
    if (!COLUMN.matcher(name).matches()) {
      section.problem(
          key,
          "'%s' is not a column name: lower-case letters, digits, underscores".formatted(name));
    }
  }

  /** Expressions are SQL of the warehouse; more than one statement they are not. */
  private Map<String, String> columns(Section section) {
    Map<String, String> columns = new LinkedHashMap<>();
    Optional<Node> node = section.node("columns");
    if (node.isPresent()) {
      Section all = section.section("columns", node.get());
      all.all()
          .forEach(
              (name, value) -> {
                checkColumn(all, name, name);
                all.text(name).ifPresent(text -> columns.put(name, expression(all, name, text)));
              });
    }
    return columns;
  }

  private static String expression(Section section, String key, String text) {
    if (text.contains(";") || text.contains("--") || text.contains("/*")) {
      section.problem(key, "'%s' is more than an expression".formatted(text));
    }
    return text;
  }

  private static ExistingPolicy existing(Section section) {
    Optional<Node> node = section.node("existing");
    if (node.isPresent() && node.get() instanceof Node.Fields) {
      Section only = section.section("existing", node.get());
      List<String> columns = names(only, "overwrite");
      if (columns.isEmpty()) {
        section.problem("existing", "existing names no columns to overwrite");
      }
      only.done();
      return new ExistingPolicy.Overwrite(columns);
    }
    String word = section.text("existing").orElse("overwrite");
    if (!word.equals("history") && section.has("history")) {
      section.node("history");
      section.problem("history", "history is only kept with existing: history");
    }
    return switch (word) {
      case "keep" -> new ExistingPolicy.Keep();
      case "overwrite" -> new ExistingPolicy.Overwrite(List.of());
      case "history" -> history(section);
      default -> {
        section.problem(
            "existing",
            "existing cannot be '%s'; it is keep, overwrite, history, or { overwrite: [columns] }"
                .formatted(word));
        yield new ExistingPolicy.Overwrite(List.of());
      }
    };
  }

  private static ExistingPolicy history(Section section) {
    Optional<Node> node = section.node("history");
    if (node.isEmpty()) {
      section.problem(
          "existing",
          "a history needs the key history with at: the column with the start of a version");
      return new ExistingPolicy.Keep();
    }
    Section history = section.section("history", node.get());
    String current = history.text("current").orElse("is_current");
    ExistingPolicy result =
        new ExistingPolicy.History(
            history.required("at"),
            column(history, "from").orElse("valid_from"),
            column(history, "until").orElse("valid_to"),
            current.equals("none") ? Optional.empty() : Optional.of(current),
            names(history, "versions"));
    history.done();
    return result;
  }

  private static DeleteMarker deleted(Section section, boolean history) {
    GoneKeys then = leaving(section, history);
    List<String> values = section.texts("values").orElse(List.of());
    if (values.isEmpty()) {
      section.problem(
          "values", "deleted needs values: those of the column that mark a deleted key");
    }
    DeleteMarker deleted =
        new DeleteMarker(section.required("column"), values, then, into(section, then, history));
    if (then == GoneKeys.KEEP) {
      section.problem("then", "deleted rows that are kept need no declaration");
    }
    section.done();
    return deleted;
  }

  private static SnapshotPolicy missing(Section section, boolean history) {
    GoneKeys then = leaving(section, history);
    String most = section.text("at-most").orElse("10%");
    Matcher share = SHARE.matcher(most);
    if (!share.matches()) {
      section.problem(
          "at-most", "at-most cannot be '%s'; it is a share such as 5%%".formatted(most));
    }
    SnapshotPolicy missing =
        new SnapshotPolicy(
            then,
            into(section, then, history),
            share.matches() ? new BigDecimal(share.group(1)) : BigDecimal.TEN);
    section.done();
    return missing;
  }

  private static GoneKeys leaving(Section section, boolean history) {
    GoneKeys then =
        section.choice("then", Section.labels(GoneKeys.values(), GoneKeys::label), GoneKeys.KEEP);
    if (!section.has("then")) {
      section.problem("then", "say what happens then: keep, mark, end or delete");
    }
    if (history && then == GoneKeys.DELETE) {
      section.problem("then", "a history keeps old versions: use end or mark, not delete");
    }
    return then;
  }

  private static Optional<String> into(Section section, GoneKeys then, boolean history) {
    Optional<String> into = column(section, "into");
    boolean needed = then == GoneKeys.MARK || then == GoneKeys.END && !history;
    if (needed && into.isEmpty()) {
      section.problem(
          "then", "then: %s needs into: the target's column for it".formatted(then.label()));
    }
    return needed ? into : Optional.empty();
  }

  private List<Lookup> lookups(Section section, Map<String, Merge> dimensions) {
    List<Lookup> lookups = new ArrayList<>();
    Optional<Node> node = section.node("lookups");
    if (node.isPresent()) {
      Section all = section.section("lookups", node.get());
      all.all()
          .forEach(
              (column, n) -> {
                checkColumn(all, column, column);
                lookups.add(lookup(column, all.section("lookup " + column, n), dimensions));
              });
    }
    return lookups;
  }

  private Lookup lookup(String column, Section section, Map<String, Merge> dimensions) {
    TableName table = table(section, "in");
    Optional<Merge> dimension =
        dimensions.values().stream().filter(m -> m.into().equals(table)).findFirst();
    Optional<ExistingPolicy.History> history = dimension.flatMap(Merge::history);
    Optional<String> at = section.text("at").map(t -> expression(section, "at", t));
    Optional<Lookup.Validity> validity =
        history.map(h -> new Lookup.Validity(h.from(), h.until(), h.current()));
    Optional<Node> own = section.node("validity");
    if (own.isPresent()) {
      Section named = section.section("validity", own.get());
      validity =
          Optional.of(
              new Lookup.Validity(
                  named.required("from"), named.required("until"), named.text("current")));
      named.done();
    }
    if (at.isPresent() && validity.isEmpty()) {
      section.problem(
          "at",
          "%s has no history that a merge declares: add validity: { from: …, until: … }"
              .formatted(table));
    }
    Lookup lookup =
        new Lookup(
            column,
            table,
            keys(section),
            section.text("take").or(() -> dimension.flatMap(Merge::surrogate)).orElse(column),
            at,
            validity,
            unknown(section, dimension));
    section.done();
    return lookup;
  }

  private static Map<String, String> keys(Section section) {
    Map<String, String> keys = new LinkedHashMap<>();
    Optional<Node> node = section.node("key");
    if (node.isPresent() && node.get() instanceof Node.Fields) {
      Section all = section.section("key", node.get());
      all.all()
          .forEach(
              (name, n) ->
                  all.text(name).ifPresent(text -> keys.put(name, expression(all, name, text))));
    } else {
      names(section, "key").forEach(name -> keys.put(name, "s.\"" + name + "\""));
    }
    if (keys.isEmpty()) {
      section.problem("key", "a lookup needs key: the dimension's key columns");
      keys.put("none", "null");
    }
    return keys;
  }

  private static Unknown unknown(Section section, Optional<Merge> dimension) {
    Optional<Node> node = section.node("unknown");
    if (node.isPresent() && node.get() instanceof Node.Fields) {
      Section other = section.section("unknown", node.get());
      Unknown result = new Unknown.Default(other.required("default"));
      other.done();
      return result;
    }
    String word = section.text("unknown").orElse("reject");
    if (word.equals("placeholder")) {
      Optional<String> column = dimension.flatMap(Merge::placeholder);
      if (column.isEmpty()) {
        section.problem(
            "unknown",
            "the merge into the dimension must name a placeholder column, which marks such members");
      }
      return new Unknown.Placeholder(column.orElse("none"));
    }
    if (!word.equals("reject")) {
      section.problem(
          "unknown",
          "unknown cannot be '%s'; it is reject, placeholder, or { default: value }"
              .formatted(word));
    }
    return new Unknown.Reject();
  }
}
