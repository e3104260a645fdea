package dev.dusky.app.config;

import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Reads the declared form of JSON values: a block is an object with these members, a list with one
 * entry an array, a block with the key {@code *} alone an object with any keys, and a text a type.
 */
final class NestedFormReader {

  /** Other members, or any key. */
  private static final String OTHERS = "*";

  private static final String SKIP = "skip";
  private static final String NOT_NULL = " not null";
  private static final int MOST_DEPTH = 20;

  private final ConfigProblems problems;

  private NestedFormReader(ConfigProblems problems) {
    this.problems = problems;
  }

  /** The type of a json column with the form that its key {@code nested} declares. */
  static SqlType read(Section section, SqlType declared, ConfigProblems problems) {
    Optional<Node> node = section.node("nested");
    if (node.isEmpty()) {
      return declared;
    }
    if (declared.kind() != TypeKind.JSON) {
      section.problem("nested", "only a column of type json has nested values");
      return declared;
    }
    NestedFormReader reader = new NestedFormReader(problems);
    if (node.get() instanceof Node.Scalar) {
      reader.problem(node.get(), "declare an object { name: type, … } or an array [ type ]");
      return declared;
    }
    return reader.part(node.get(), 0).type();
  }

  private void problem(Node at, String text) {
    problems.add(at.line(), "nested: " + text);
  }

  private NestedForm.Part part(Node node, int depth) {
    if (depth > MOST_DEPTH) {
      problem(
          node, "at most %d levels can be declared; take what is below as json".formatted(depth));
      return text();
    }
    if (node instanceof Node.Items items) {
      if (items.nodes().size() != 1) {
        problem(node, "an array has one entry, the type of its elements: [ text ]");
        return text();
      }
      return some(new NestedForm.Items(part(items.nodes().get(0), depth + 1)));
    }
    if (node instanceof Node.Fields fields) {
      return some(form(fields, depth));
    }
    return scalar((Node.Scalar) node);
  }

  private static NestedForm.Part some(NestedForm form) {
    return new NestedForm.Part(SqlType.nested(form), false);
  }

  private static NestedForm.Part text() {
    return new NestedForm.Part(SqlType.of(TypeKind.TEXT), false);
  }

  private NestedForm form(Node.Fields fields, int depth) {
    Map<String, Node> nodes = fields.nodes();
    Node others = nodes.get(OTHERS);
    boolean open = others instanceof Node.Scalar scalar && SKIP.equals(scalar.text());
    if (others != null && !open && nodes.size() == 1) {
      return new NestedForm.Entries(part(others, depth + 1));
    }
    if (others != null && !open) {
      problem(
          others, "beside named members \"*\" can only be skip, which leaves other members out");
    }
    if (nodes.isEmpty() || open && nodes.size() == 1) {
      problem(fields, "an object needs at least one member");
    }
    List<NestedForm.Member> members = new ArrayList<>();
    Map<String, String> names = new HashMap<>();
    nodes.forEach(
        (name, node) -> {
          if (name.equals(OTHERS)) {
            return;
          }
          String other = names.put(name.toLowerCase(Locale.ROOT), name);
          if (other != null) {
            problem(node, "members %s and %s differ only in case".formatted(other, name));
          }
          members.add(new NestedForm.Member(name, part(node, depth + 1)));
        });
    return new NestedForm.Members(members, open);
  }

  private NestedForm.Part scalar(Node.Scalar node) {
    String declared = node.text() == null ? "" : node.text().strip().toLowerCase(Locale.ROOT);
    boolean notNull = declared.endsWith(NOT_NULL);
    String name = notNull ? declared.substring(0, declared.length() - NOT_NULL.length()) : declared;
    Optional<SqlType> type = SqlType.parse(name);
    if (type.isEmpty()) {
      problem(node, "'%s' is not a SQL type".formatted(declared));
    }
    return new NestedForm.Part(type.orElse(SqlType.of(TypeKind.TEXT)), notNull);
  }
}
