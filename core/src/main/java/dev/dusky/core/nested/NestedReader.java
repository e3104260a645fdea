package dev.dusky.core.nested;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.NestedForm.Part;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Reads JSON values of a declared form. An object becomes a map with its members, in the order in
 * which they are declared, or with its entries in the order of their keys; an array becomes a list;
 * other values become objects of the classes that JDBC uses. Each value is read as a column of its
 * type would read it. Not safe for use by several threads.
 */
public abstract class NestedReader {

  /** The most characters of a name in a message. */
  private static final int LONGEST_NAME = 60;

  private NestedReader() {}

  /** A reader of values of that type. */
  public static NestedReader of(SqlType type) {
    if (type.form().isEmpty()) {
      return new OfScalar(type);
    }
    NestedForm form = type.form().get();
    if (form instanceof NestedForm.Members members) {
      return new OfMembers(members);
    }
    return form instanceof NestedForm.Items items
        ? new OfItems(items.element())
        : new OfEntries(((NestedForm.Entries) form).value());
  }

  /**
   * Reads a node of a tree.
   *
   * @param path where it is, for messages
   * @return null for a JSON null
   */
  abstract Object value(JsonTree tree, int node, String path) throws NestedFault;

  /** Reads the value that a tree is; null for a JSON null. */
  public Object read(JsonTree tree) throws NestedFault {
    return tree.kind(0) == JsonTree.Kind.NULL ? null : value(tree, 0, "");
  }

  private static String at(String path) {
    return path.isEmpty() ? "" : ", at " + path;
  }

  private static String written(JsonTree tree, int node) {
    return new String(
        tree.bytes(), tree.start(node), tree.end(node) - tree.start(node), StandardCharsets.UTF_8);
  }

  private static NestedFault unlike(JsonTree tree, int node, String what, String path) {
    return new NestedFault(RejectCode.BAD_JSON, written(tree, node), "is not " + what + at(path));
  }

  /** A part of a value, null where it is missing. */
  private static final class Inner {
    private final Part part;
    private final NestedReader reader;

    Inner(Part part) {
      this.part = part;
      this.reader = of(part.type());
    }

    Object read(JsonTree tree, int node, String path) throws NestedFault {
      if (node >= 0 && tree.kind(node) != JsonTree.Kind.NULL) {
        return reader.value(tree, node, path);
      }
      if (part.notNull()) {
        throw new NestedFault(
            RejectCode.NULL_VALUE, "", "no value at %s, but it is not null".formatted(path));
      }
      return null;
    }
  }

  private static final class OfScalar extends NestedReader {
    private final SqlType type;
    private final ScalarText text;

    OfScalar(SqlType type) {
      this.type = type;
      this.text = ScalarText.of(type);
    }

    @Override
    Object value(JsonTree tree, int node, String path) throws NestedFault {
      boolean any = type.kind() == TypeKind.JSON;
      if (!any && tree.isContainer(node)) {
        throw unlike(tree, node, type.toString(), path);
      }
      String written = any ? written(tree, node) : tree.text(node);
      try {
        return text.read(written.getBytes(StandardCharsets.UTF_8));
      } catch (NestedFault fault) {
        throw new NestedFault(fault.code(), fault.value(), fault.getMessage() + at(path));
      }
    }
  }

  private static final class OfMembers extends NestedReader {
    private final NestedForm.Members form;
    private final Map<String, Inner> inners = new LinkedHashMap<>();

    OfMembers(NestedForm.Members form) {
      this.form = form;
      form.members().forEach(member -> inners.put(member.name(), new Inner(member.part())));
    }

    @Override
    Object value(JsonTree tree, int node, String path) throws NestedFault {
      if (!tree.isObject(node)) {
        throw unlike(tree, node, "an object", path);
      }
      Map<String, Integer> found = new LinkedHashMap<>();
      for (int m = node + 1; m < tree.next(node); m = tree.next(m)) {
        String name = tree.key(m);
        if (!inners.containsKey(name)) {
          if (!form.open()) {
            throw new NestedFault(
                RejectCode.UNKNOWN_MEMBER,
                written(tree, m),
                "is the value of %s, which nested does not declare".formatted(inner(path, name)));
          }
        } else if (found.put(name, m) != null) {
          throw twice(tree, m, inner(path, name));
        }
      }
      Map<String, Object> values = new LinkedHashMap<>();
      for (Map.Entry<String, Inner> inner : inners.entrySet()) {
        int m = found.getOrDefault(inner.getKey(), -1);
        values.put(inner.getKey(), inner.getValue().read(tree, m, inner(path, inner.getKey())));
      }
      return values;
    }
  }

  private static NestedFault twice(JsonTree tree, int node, String path) {
    return new NestedFault(
        RejectCode.REPEATED_MEMBER, written(tree, node), "is the second value of " + path);
  }

  private static String inner(String path, String name) {
    String shown = name.length() > LONGEST_NAME ? name.substring(0, LONGEST_NAME) + "\u2026" : name;
    return path.isEmpty() ? shown : path + "." + shown;
  }

  private static final class OfItems extends NestedReader {
    private final Inner element;

    OfItems(Part element) {
      this.element = new Inner(element);
    }

    @Override
    Object value(JsonTree tree, int node, String path) throws NestedFault {
      if (tree.kind(node) != JsonTree.Kind.ARRAY) {
        throw unlike(tree, node, "an array", path);
      }
      List<Object> values = new ArrayList<>();
      for (int e = node + 1; e < tree.next(node); e = tree.next(e)) {
        values.add(element.read(tree, e, path + "[" + values.size() + "]"));
      }
      return values;
    }
  }

  private static final class OfEntries extends NestedReader {
    private final Inner entry;

    OfEntries(Part value) {
      this.entry = new Inner(value);
    }

    @Override
    Object value(JsonTree tree, int node, String path) throws NestedFault {
      if (!tree.isObject(node)) {
        throw unlike(tree, node, "an object", path);
      }
      Map<String, Object> values = new TreeMap<>();
      for (int m = node + 1; m < tree.next(node); m = tree.next(m)) {
        String name = tree.key(m);
        if (values.containsKey(name)) {
          throw twice(tree, m, inner(path, name));
        }
        values.put(name, entry.read(tree, m, inner(path, name)));
      }
      return values;
    }
  }
}
