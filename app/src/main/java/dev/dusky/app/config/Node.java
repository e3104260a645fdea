package dev.dusky.app.config;

import java.util.List;
import java.util.Map;

/** A piece of YAML that knows its line. */
sealed interface Node {

  /** The line on which it starts, from 1. */
  int line();

  /** A single value; null if it was left blank. */
  record Scalar(String text, int line) implements Node {}

  /** A list. */
  record Items(List<Node> nodes, int line) implements Node {}

  /** Keys with their values, in order; {@code keyLines} has the line of each key. */
  record Fields(Map<String, Node> nodes, Map<String, Integer> keyLines, int line) implements Node {}
}
