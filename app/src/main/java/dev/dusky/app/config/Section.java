package dev.dusky.app.config;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * One block of keys in the configuration. Values are asked for by key and type; what is wrong is
 * noted with its line; {@link #done} notes unknown keys.
 */
final class Section {

  private final String name;
  private final Node.Fields fields;
  private final ConfigProblems problems;
  private final Set<String> known = new HashSet<>();

  /** A section; a node that is not a block of keys is noted as a problem and taken as empty. */
  Section(String name, Node node, ConfigProblems problems) {
    this.name = name;
    this.problems = problems;
    if (node instanceof Node.Fields block) {
      fields = block;
    } else {
      fields = new Node.Fields(Map.of(), Map.of(), node.line());
      boolean blank = node instanceof Node.Scalar scalar && scalar.text() == null;
      if (!blank) {
        problems.add(node.line(), name + " must be a block of keys");
      }
    }
  }

  int line() {
    return fields.line();
  }

  int line(String key) {
    return fields.keyLines().getOrDefault(key, fields.line());
  }

  void problem(String key, String message) {
    problems.add(line(key), message);
  }

  boolean has(String key) {
    return fields.nodes().containsKey(key);
  }

  Optional<Node> node(String key) {
    known.add(key);
    return Optional.ofNullable(fields.nodes().get(key));
  }

  /** The sections below a key, by name. */
  Map<String, Node> children(String key) {
    Optional<Node> node = node(key);
    if (node.isEmpty()) {
      return Map.of();
    }
    return new Section(key, node.get(), problems).fields.nodes();
  }

  /** The names in this section. */
  Map<String, Node> all() {
    known.addAll(fields.nodes().keySet());
    return new LinkedHashMap<>(fields.nodes());
  }

  Optional<String> text(String key) {
    Optional<Node> node = node(key);
    if (node.isEmpty()) {
      return Optional.empty();
    }
    if (node.get() instanceof Node.Scalar scalar && scalar.text() != null) {
      return Optional.of(scalar.text());
    }
    problem(key, key + " must be a single value");
    return Optional.empty();
  }

  /** A required text; a missing one is noted as a problem and read as empty. */
  String required(String key) {
    if (!has(key)) {
      problems.add(line(), name + " needs the key " + key);
    }
    return text(key).orElse("");
  }

  boolean flag(String key, boolean otherwise) {
    Optional<String> text = text(key);
    if (text.isPresent() && !text.get().equals("true") && !text.get().equals("false")) {
      problem(key, key + " must be true or false");
    }
    return text.map(Boolean::parseBoolean).orElse(otherwise);
  }

  int number(String key, int least, int most, int otherwise) {
    Optional<String> text = text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    if (text.get().matches("\\d{1,9}")) {
      int value = Integer.parseInt(text.get());
      if (value >= least && value <= most) {
        return value;
      }
    }
    problem(key, "%s must be a whole number from %,d to %,d".formatted(key, least, most));
    return otherwise;
  }

  /** One of an enum's constants, written in lower case with hyphens. */
  <E extends Enum<E>> E choice(String key, Map<String, E> choices, E otherwise) {
    Optional<String> text = text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    E value = choices.get(text.get().toLowerCase(Locale.ROOT));
    if (value == null) {
      problem(
          key,
          "%s cannot be '%s'; it is one of %s"
              .formatted(
                  key,
                  text.get(),
                  choices.keySet().stream().sorted().collect(Collectors.joining(", "))));
      return otherwise;
    }
    return value;
  }

  static <E extends Enum<E>> Map<String, E> labels(E[] values, Function<E, String> label) {
    return Arrays.stream(values).collect(Collectors.toMap(label, Function.identity()));
  }

  /** A list of texts, or one alone. */
  Optional<List<String>> texts(String key) {
    Optional<Node> node = node(key);
    if (node.isEmpty()) {
      return Optional.empty();
    }
    List<Node> nodes = node.get() instanceof Node.Items items ? items.nodes() : List.of(node.get());
    List<String> result = new ArrayList<>();
    for (Node item : nodes) {
      if (item instanceof Node.Scalar scalar && scalar.text() != null) {
        result.add(scalar.text());
      } else {
        problems.add(item.line(), key + " must be a list of single values");
      }
    }
    return Optional.of(result);
  }

  /** A section below this one. */
  Section section(String sectionName, Node node) {
    return new Section(sectionName, node, problems);
  }

  /** Notes every key that was not asked for, with the nearest that could have been meant. */
  void done() {
    for (String key : fields.nodes().keySet()) {
      if (!known.contains(key)) {
        String hint =
            NearestName.of(key, known)
                .map(near -> "; the nearest known one is '" + near + "'")
                .orElse("; known are " + known.stream().sorted().collect(Collectors.joining(", ")));
        problems.add(line(key), "%s has no key '%s'%s".formatted(name, key, hint));
      }
    }
  }
}
