package dev.dusky.app.config;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLParser;
import java.io.IOException;
import java.io.Reader;
import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Reads a YAML file into nodes that know their lines. Keys that occur twice are problems. */
final class YamlTree {

  private final ConfigProblems problems;

  YamlTree(ConfigProblems problems) {
    this.problems = problems;
  }

  Node read(Path file) throws IOException {
    return read(Files.newBufferedReader(file));
  }

  /** Reads a piece of YAML from the command line. */
  Node readText(String yaml) throws IOException {
    return read(new StringReader(yaml));
  }

  private Node read(Reader source) throws IOException {
    try (JsonParser parser = new YAMLFactory().createParser(source)) {
      if (parser.nextToken() == null) {
        return new Node.Fields(Map.of(), Map.of(), 1);
      }
      return node((YAMLParser) parser);
    } catch (JsonProcessingException e) {
      int line = e.getLocation() == null ? 1 : e.getLocation().getLineNr();
      problems.add(
          line, "not well-formed YAML: " + e.getOriginalMessage().lines().findFirst().get());
      return new Node.Fields(Map.of(), Map.of(), 1);
    }
  }

  private Node node(YAMLParser parser) throws IOException {
    int line = parser.currentTokenLocation().getLineNr();
    JsonToken token = parser.currentToken();
    if (token == JsonToken.START_OBJECT) {
      return fields(parser, line);
    }
    if (token == JsonToken.START_ARRAY) {
      List<Node> nodes = new ArrayList<>();
      while (parser.nextToken() != JsonToken.END_ARRAY) {
        nodes.add(node(parser));
      }
      return new Node.Items(nodes, line);
    }
    if (parser.isCurrentAlias()) {
      problems.add(line, "aliases (*name) are not supported");
    }
    return new Node.Scalar(token == JsonToken.VALUE_NULL ? null : parser.getText(), line);
  }

  private Node fields(YAMLParser parser, int line) throws IOException {
    Map<String, Node> nodes = new LinkedHashMap<>();
    Map<String, Integer> lines = new HashMap<>();
    while (parser.nextToken() != JsonToken.END_OBJECT) {
      String key = parser.currentName();
      int keyLine = parser.currentTokenLocation().getLineNr();
      parser.nextToken();
      Node value = node(parser);
      if (nodes.containsKey(key)) {
        problems.add(
            keyLine,
            "'%s' is declared a second time, first on line %d".formatted(key, lines.get(key)));
      } else {
        nodes.put(key, value);
        lines.put(key, keyLine);
      }
    }
    return new Node.Fields(nodes, lines, line);
  }
}
