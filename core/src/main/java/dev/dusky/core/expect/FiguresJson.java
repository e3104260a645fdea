package dev.dusky.core.expect;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.json.JsonTree;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;

/**
 * Reads and writes manifests and control files, which are JSON (RFC 8259). What is not known is an
 * error; nothing is guessed.
 */
public final class FiguresJson {

  /** The only version of the form. */
  public static final int VERSION = 1;

  /** The largest manifest or control file in bytes. */
  public static final int MOST_BYTES = 64 << 20;

  private static final Set<String> ENTRY =
      Set.of("path", "required", "size", "sha256", "rows", "totals");

  private final String name;
  private final Function<String, Failure> failures;
  private final JsonTree tree = new JsonTree();

  private FiguresJson(String name, Function<String, Failure> failures, byte[] text) {
    this.name = name;
    this.failures = failures;
    if (!tree.read(text, 0, text.length)) {
      throw wrong("at byte %,d, %s".formatted(tree.failedAt() + 1, tree.failure()));
    }
    if (!tree.isObject(0)) {
      throw wrong("it is not a JSON object");
    }
  }

  private Failure wrong(String why) {
    return failures.apply(name + " cannot be used").because(why);
  }

  /**
   * Reads a manifest.
   *
   * @throws Failure of kind CONFIGURATION that says where it is wrong
   */
  public static Manifest manifest(String name, byte[] text) {
    return new FiguresJson(name, Failure::configuration, text).manifest();
  }

  /**
   * Reads the control file beside a file: an object with rows, totals, or both.
   *
   * @throws Failure of kind FILE that says where it is wrong
   */
  public static ControlFigures sidecar(String name, byte[] text) {
    FiguresJson json = new FiguresJson(name, Failure::file, text);
    Map<String, Integer> members = json.members(0, Set.of("rows", "totals"), "it");
    return new ControlFigures(
        "control file " + name, json.whole(members, "rows"), json.totals(members));
  }

  private Manifest manifest() {
    Map<String, Integer> top = members(0, Set.of("manifest", "files"), "it");
    Integer version = top.get("manifest");
    if (version == null || !tree.text(version).equals(Integer.toString(VERSION))) {
      throw wrong("it does not begin with \"manifest\": %d, the form's version".formatted(VERSION));
    }
    Integer list = top.get("files");
    if (list == null || tree.kind(list) != JsonTree.Kind.ARRAY) {
      throw wrong("it has no array \"files\"");
    }
    Map<String, Manifest.Entry> entries = new LinkedHashMap<>();
    int number = 0;
    for (int node = list + 1; node < tree.next(list); node = tree.next(node)) {
      Manifest.Entry entry = entry(node, ++number);
      if (entries.put(entry.path(), entry) != null) {
        throw wrong("it lists '%s' twice".formatted(entry.path()));
      }
    }
    if (entries.isEmpty()) {
      throw wrong("it lists no file");
    }
    return new Manifest(name, entries);
  }

  private Manifest.Entry entry(int node, int number) {
    String where = "file %d of it".formatted(number);
    if (!tree.isObject(node)) {
      throw wrong(where + " is not a JSON object");
    }
    Map<String, Integer> members = members(node, ENTRY, where);
    String path = string(members, "path").orElseThrow(() -> wrong(where + " has no path"));
    if (path.startsWith("/")
        || path.contains("\\")
        || Arrays.asList(path.split("/")).contains("..")) {
      throw wrong("%s is outside the depot: '%s'".formatted(where, path));
    }
    Integer required = members.get("required");
    if (required != null
        && tree.kind(required) != JsonTree.Kind.TRUE
        && tree.kind(required) != JsonTree.Kind.FALSE) {
      throw wrong(where + ": required must be true or false");
    }
    Optional<String> sha256 = string(members, "sha256");
    if (sha256.isPresent() && !sha256.get().matches("[0-9a-f]{64}")) {
      throw wrong(where + ": sha256 must be 64 lower-case hexadecimal digits");
    }
    return new Manifest.Entry(
        path,
        required == null || tree.kind(required) == JsonTree.Kind.TRUE,
        whole(members, "size"),
        sha256,
        whole(members, "rows"),
        totals(members));
  }

  /** An object's members by name, none of them unknown or repeated. */
  private Map<String, Integer> members(int object, Set<String> known, String where) {
    Map<String, Integer> members = new LinkedHashMap<>();
    for (int node = object + 1; node < tree.next(object); node = tree.next(node)) {
      String key = tree.key(node);
      if (known != null && !known.contains(key)) {
        throw wrong(
            "%s has the unknown member '%s'; known are %s"
                .formatted(where, key, String.join(", ", known.stream().sorted().toList())));
      }
      if (members.put(key, node) != null) {
        throw wrong("%s has the member '%s' twice".formatted(where, key));
      }
    }
    return members;
  }

  private Optional<String> string(Map<String, Integer> members, String key) {
    Integer node = members.get(key);
    if (node == null) {
      return Optional.empty();
    }
    if (tree.kind(node) != JsonTree.Kind.STRING) {
      throw wrong(key + " must be a string");
    }
    return Optional.of(tree.text(node));
  }

  private Optional<Long> whole(Map<String, Integer> members, String key) {
    Integer node = members.get(key);
    if (node == null) {
      return Optional.empty();
    }
    if (tree.kind(node) != JsonTree.Kind.NUMBER || !tree.text(node).matches("\\d{1,18}")) {
      throw wrong("%s must be a whole number, it is %s".formatted(key, tree.text(node)));
    }
    return Optional.of(Long.parseLong(tree.text(node)));
  }

  private Map<String, BigDecimal> totals(Map<String, Integer> members) {
    Map<String, BigDecimal> totals = new TreeMap<>();
    Integer node = members.get("totals");
    if (node == null) {
      return totals;
    }
    if (!tree.isObject(node)) {
      throw wrong("totals must be an object, a sum for each column");
    }
    members(node, null, "totals")
        .forEach((column, value) -> totals.put(column, sum(column, value)));
    return totals;
  }

  private BigDecimal sum(String column, int node) {
    boolean possible =
        tree.kind(node) == JsonTree.Kind.NUMBER || tree.kind(node) == JsonTree.Kind.STRING;
    try {
      if (possible && tree.text(node).length() <= 100) {
        return new BigDecimal(tree.text(node));
      }
    } catch (NumberFormatException e) {
      // said below
    }
    throw wrong("the sum of %s is not a number: %s".formatted(column, tree.text(node)));
  }

  /** A manifest as text, a file a line. */
  public static String text(List<Manifest.Entry> entries) {
    StringBuilder json = new StringBuilder("{\"manifest\": %d, \"files\": [".formatted(VERSION));
    String separator = "\n";
    for (Manifest.Entry entry : entries) {
      json.append(separator).append("  {\"path\": ").append(JsonStrings.quoted(entry.path()));
      json.append(", \"required\": ").append(entry.required());
      entry.size().ifPresent(size -> json.append(", \"size\": ").append(size));
      entry.sha256().ifPresent(sum -> json.append(", \"sha256\": \"").append(sum).append('"'));
      entry.rows().ifPresent(rows -> json.append(", \"rows\": ").append(rows));
      String sum = ", \"totals\": {";
      for (Map.Entry<String, BigDecimal> total : entry.totals().entrySet()) {
        json.append(sum).append(JsonStrings.quoted(total.getKey())).append(": ");
        json.append(total.getValue().toPlainString());
        sum = ", ";
      }
      json.append(entry.totals().isEmpty() ? "}" : "}}");
      separator = ",\n";
    }
    return json.append("\n]}\n").toString();
  }
}
