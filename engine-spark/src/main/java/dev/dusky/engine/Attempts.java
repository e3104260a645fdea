package dev.dusky.engine;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.function.Consumer;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.api.java.function.Function;
import org.apache.spark.sql.SparkSession;

/** Attempts at files, spread over the engine's machines, each part by the program's own classes. */
final class Attempts {

  private Attempts() {}

  /** Runs a request; a row for each part, in their order. */
  static void run(
      SparkSession session, JsonNode request, ObjectNode template, Consumer<ObjectNode> rows) {
    JavaSparkContext engine = JavaSparkContext.fromSparkContext(session.sparkContext());
    List<String> parts = texts(request.path("parts"));
    if (parts.isEmpty()) {
      return;
    }
    Function<String, String> attempt =
        new OnePart(
            Program.on(session.sparkContext(), texts(request.path("classes"))),
            request.path("worker").asText(),
            request.path("order").asText());
    for (String report : engine.parallelize(parts, parts.size()).map(attempt).collect()) {
      rows.accept(template.deepCopy().put("row", report));
    }
  }

  /** The texts of an array. */
  static List<String> texts(JsonNode array) {
    List<String> texts = new ArrayList<>();
    array.forEach(text -> texts.add(text.asText()));
    return texts;
  }

  /** One part, on whatever machine gets it. */
  private static final class OnePart implements Function<String, String> {
    private static final long serialVersionUID = 1;

    private final Program program;
    private final String worker;
    private final String order;

    OnePart(Program program, String worker, String order) {
      this.program = program;
      this.worker = worker;
      this.order = order;
    }

    @Override
    public String call(String part) throws Exception {
      byte[] report =
          program.run(worker, Base64.getDecoder().decode(order), Base64.getDecoder().decode(part));
      return Base64.getEncoder().encodeToString(report);
    }
  }
}
