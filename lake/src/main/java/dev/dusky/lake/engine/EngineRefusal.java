package dev.dusky.lake.engine;

import com.fasterxml.jackson.databind.JsonNode;

/** The engine refused a statement, or it failed there. */
public final class EngineRefusal extends RuntimeException {

  private static final long serialVersionUID = 1;

  private final String kind;

  EngineRefusal(JsonNode answer) {
    super(firstLines(answer.path("failed").asText()));
    this.kind = answer.path("kind").asText();
  }

  private static String firstLines(String message) {
    int plan = message.indexOf(";\n'");
    String short1 = plan < 0 ? message : message.substring(0, plan);
    return short1.strip();
  }

  /** Whether the statement cannot be, whatever the tables have. */
  public boolean ofStatement() {
    return kind.endsWith("AnalysisException") || kind.endsWith("ParseException");
  }
}
