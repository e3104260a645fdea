package dev.dusky.app.config;

import java.util.List;
import java.util.stream.Collectors;

/** Values as YAML writes them. */
final class YamlText {

  private YamlText() {}

  /** A text, in quotes only where YAML would take it for something else. */
  static String of(String text) {
    boolean plain =
        text.matches("[A-Za-z_/][A-Za-z0-9_ ./()+=-]*")
            && !text.endsWith(" ")
            && !text.contains(": ")
            && !text.matches("(?i)true|false|yes|no|on|off|null|y|n|none|~");
    return plain ? text : quoted(text);
  }

  /** A text inside braces, where commas and brackets mean something too. */
  static String inFlow(String text) {
    return text.matches(".*[,\\[\\]{}].*") ? quoted(text) : of(text);
  }

  static String list(List<String> texts) {
    return texts.stream().map(YamlText::quoted).collect(Collectors.joining(", ", "[", "]"));
  }

  private static String quoted(String text) {
    StringBuilder out = new StringBuilder("\"");
    for (char c : text.toCharArray()) {
      switch (c) {
        case '"' -> out.append("\\\"");
        case '\\' -> out.append("\\\\");
        case '\t' -> out.append("\\t");
        default -> {
          if (c < 0x20 || c == 0xa0) {
            out.append("\\x%02x".formatted((int) c));
          } else {
            out.append(c);
          }
        }
      }
    }
    return out.append('"').toString();
  }
}
