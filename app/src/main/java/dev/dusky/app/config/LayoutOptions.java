package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** A layout with some of its keys set on the command line. */
public final class LayoutOptions {

  private LayoutOptions() {}

  /**
   * Applies {@code KEY=VALUE} options to a layout; {@code kind} among them starts a new one.
   *
   * @throws Failure of kind USAGE if an option is none of the layout's
   */
  public static Layout with(Layout layout, List<String> options) throws IOException {
    if (options.isEmpty()) {
      return layout;
    }
    ConfigProblems problems = new ConfigProblems();
    boolean otherKind = options.stream().anyMatch(o -> o.startsWith("kind="));
    String base = otherKind ? "" : String.join("\n", LayoutText.of(layout));
    Map<String, Node> nodes = new LinkedHashMap<>();
    Map<String, Integer> keyLines = new LinkedHashMap<>();
    if (new YamlTree(problems).readText(base) instanceof Node.Fields fields) {
      nodes.putAll(fields.nodes());
    }
    for (String option : options) {
      int equals = option.indexOf('=');
      if (equals < 1) {
        throw Failure.usage("'" + option + "' is not a layout option")
            .hint("Write KEY=VALUE with a key of the layout, such as delimiter=; or header=false");
      }
      String key = option.substring(0, equals);
      String value = option.substring(equals + 1);
      boolean structure = value.startsWith("[") || value.startsWith("{");
      String yaml =
          structure
              ? value
              : "\""
                  + value
                      .replace("\\t", "\t")
                      .replace("\\", "\\\\")
                      .replace("\"", "\\\"")
                      .replace("\t", "\\t")
                  + "\"";
      if (new YamlTree(problems).readText(key + ": " + yaml) instanceof Node.Fields fields) {
        nodes.putAll(fields.nodes());
      }
    }
    Section section = new Section("a layout", new Node.Fields(nodes, keyLines, 1), problems);
    Layout result = LayoutReader.read(layout.name(), section);
    problems.failUsage("the layout");
    return result;
  }
}
