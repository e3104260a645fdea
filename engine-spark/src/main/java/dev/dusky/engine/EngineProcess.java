package dev.dusky.engine;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.apache.spark.network.util.JavaUtils;
import org.apache.spark.sql.SparkSession;

/**
 * The process: one request a line on its standard input, answered by lines on its standard output,
 * until the input ends. A request has a number, which each line of its answer repeats:
 *
 * <pre>
 * {"id":0,"do":"store","classes":["…"],"worker":"…","order":"…","at":"s3://…"}   once, if needed
 * {"id":1,"do":"begin","scratch":"x1","tables":{"dairy.cow":"file:…"}}
 * {"id":2,"do":"tables","tables":{"landing.milk":"file:…"}}   pointers that may have moved
 * {"id":3,"do":"fill","table":"x1.taken","columns":[["load","bigint"]],"rows":[["1"]]}
 * {"id":4,"do":"make","table":"x1.batch","query":"select …"}  answer: {"id":4,"rows":12}
 * {"id":5,"do":"run","sql":"merge into …"}                    answer: rows more than before
 * {"id":6,"do":"read","query":"select …"}      answers: {"row":[…]} each, then {"rows":n}
 * {"id":7,"do":"shape","query":"select …"}     answer: {"columns":[["cow","bigint"],…]}
 * {"id":8,"do":"end"}                          answer: {"tables":{"dairy.cow":[from, to]}}
 * {"id":9,"do":"undo"}                         instead of end: what was written is removed
 * {"id":10,"do":"attempt","classes":["…"],"worker":"…","order":"…","parts":["…"]}
 *                              answers: {"row":"…"} for each part, bytes in base 64;
 *                              with "among":true repeats are looked for in all parts first, and
 *                              in rows of the landing table, "landed":["…"]
 * </pre>
 *
 * <p>An answer with {@code failed} says what the engine refused; the process continues.
 */
public final class EngineProcess {

  private static final ObjectMapper JSON = new ObjectMapper();

  private EngineProcess() {}

  /**
   * Runs it.
   *
   * @param arguments options of the engine, each {@code name=value}
   */
  public static void main(String[] arguments) throws IOException {
    PrintStream answers = new PrintStream(System.out, true, StandardCharsets.UTF_8);
    System.setOut(System.err); // whatever else prints must not be taken for an answer
    Path folder = Files.createTempDirectory("dusky-engine-");
    SparkSession session = Sessions.open(arguments, folder);
    ObjectNode ready = JSON.createObjectNode();
    ready.put("ready", session.version());
    answers.println(ready);
    Statements statements = new Statements(session, JSON);
    BufferedReader requests =
        new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
    for (String line = requests.readLine(); line != null; line = requests.readLine()) {
      answer(statements, line, answers);
    }
    session.stop();
    JavaUtils.deleteRecursively(folder.toFile());
  }

  private static void answer(Statements statements, String line, PrintStream answers)
      throws JsonProcessingException {
    JsonNode request = JSON.readTree(line);
    long id = request.path("id").asLong();
    try {
      ObjectNode answer =
          statements.run(
              request,
              row -> {
                row.put("id", id);
                answers.println(row);
              });
      answer.put("id", id);
      answers.println(answer);
    } catch (Exception | LinkageError | StackOverflowError e) {
      ObjectNode failed = JSON.createObjectNode();
      failed.put("id", id);
      Refusals.describe(e, failed);
      answers.println(failed);
    }
  }
}
