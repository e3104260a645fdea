package dev.dusky.engine;

import com.fasterxml.jackson.databind.node.ObjectNode;
import org.apache.spark.SparkThrowable;

/** What the engine refused, for the process that asked. */
final class Refusals {

  private static final int MOST = 4000;

  private Refusals() {}

  static void describe(Throwable refused, ObjectNode answer) {
    Throwable cause = refused;
    for (Throwable t = refused; t != null && t != t.getCause(); t = t.getCause()) {
      cause = t;
      if (t instanceof SparkThrowable spark && spark.getErrorClass() != null) {
        answer.put("class", spark.getErrorClass());
        answer.put("state", String.valueOf(spark.getSqlState()));
        break;
      }
    }
    String message = String.valueOf(cause.getMessage());
    answer.put("failed", message.length() > MOST ? message.substring(0, MOST) : message);
    answer.put("kind", cause.getClass().getSimpleName());
  }
}
