package dev.dusky.lake.engine;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.dusky.core.dispatch.DispatchOrder;
import dev.dusky.core.dispatch.DispatchPart;
import dev.dusky.core.dispatch.FileReport;
import dev.dusky.core.dispatch.LandedPart;
import dev.dusky.core.dispatch.SurveyPart;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.core.warehouse.LakeSettings;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The engine's process. It is started when it is first needed, stays for the statements that
 * follow, and ends when this is closed or this process ends. One turn at a time uses it.
 */
public final class Engine implements AutoCloseable {

  private static final Logger LOG = LoggerFactory.getLogger(Engine.class);

  private static final JsonMapper JSON =
      JsonMapper.builder()
          .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
          .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
          .build();

  private static final int GRACE_SECONDS = 10;

  private static final int POLL_MILLIS = 5;

  /** What a session says whose master cannot be reached. */
  private static final String STOPPED = "Cannot call methods on a stopped SparkContext";

  /** The option by which people give the engine another access to the tables' files. */
  private static final String OWN_ACCESS = "spark.sql.catalog.dusky_tables.io-impl";

  private final EngineSettings settings;
  private final EngineLaunch command;
  private final Optional<LakeSettings.Store> store;
  private final ReentrantLock turn = new ReentrantLock(true);
  private Process process;
  private BufferedWriter requests;
  private BufferedReader answers;
  private EngineWords words;
  private long number;

  /**
   * The engine for the tables at a place, with its libraries where the command finds them.
   *
   * @param store the store that the tables are in, unless they are in a folder
   */
  public Engine(EngineSettings settings, EngineLaunch command, Optional<LakeSettings.Store> store) {
    this.settings = settings;
    this.command = command;
    this.store = store;
  }

  /** Waits for its turn, and starts the process if there is none. */
  EngineTurn open() {
    turn.lock();
    try {
      if (!alive()) {
        start();
      }
      return new EngineTurn(this);
    } catch (RuntimeException e) {
      turn.unlock();
      throw e;
    }
  }

  /**
   * Attempts files for a load; a list of reports for each part.
   *
   * @param landed the rows of the table that repeats are looked for in
   * @param stopped once it says true the process is ended, and with it the attempts
   */
  List<List<FileReport>> attempt(
      DispatchOrder order,
      List<LandedPart> landed,
      List<DispatchPart> parts,
      BooleanSupplier stopped) {
    ObjectNode request =
        request("attempt")
            .put("worker", order.worker())
            .put("order", Base64.getEncoder().encodeToString(order.bytes()))
            .put("among", order.hashes().isPresent());
    putProgram(request);
    put(request.putArray("landed"), landed);
    put(request.putArray("parts"), parts);
    List<List<FileReport>> reports = new ArrayList<>();
    try (EngineTurn use = open()) {
      ask(
          request,
          line -> {
            try {
              reports.add(FileReport.read(Base64.getDecoder().decode(line.path("row").asText())));
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          },
          stopped);
    }
    return reports;
  }

  private static void put(ArrayNode all, List<? extends SurveyPart> parts) {
    parts.forEach(part -> all.add(Base64.getEncoder().encodeToString(part.bytes())));
  }

  boolean alive() {
    return process != null && process.isAlive();
  }

  void release() {
    turn.unlock();
  }

  private void start() {
    stop();
    try {
      process = new ProcessBuilder(command.line(settings)).start();
    } catch (IOException e) {
      throw unusable("it cannot be started: " + e.getMessage()).from(e);
    }
    words = EngineWords.of(process.getErrorStream());
    requests =
        new BufferedWriter(
            new OutputStreamWriter(process.getOutputStream(), StandardCharsets.UTF_8));
    answers =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    String version = next().path("ready").asText();
    if (!version.startsWith(EngineSettings.VERSION + ".")) {
      stop();
      throw unusable(
          "it is version %s, and %s is needed".formatted(version, EngineSettings.VERSION));
    }
    if (!settings.options().containsKey(OWN_ACCESS)) {
      store.ifPresent(this::reach);
    }
  }

  /** Lets it reach the store that the tables are in by this program's own client. */
  private void reach(LakeSettings.Store at) {
    ObjectNode request =
        request("store")
            .put("worker", at.elsewhere().worker())
            .put("order", Base64.getEncoder().encodeToString(at.elsewhere().bytes()))
            .put("at", at.at());
    putProgram(request);
    ask(request, row -> {});
  }

  private static void putProgram(ObjectNode request) {
    ArrayNode classes = request.putArray("classes");
    ProgramClasses.ALL.forEach(classes::add);
  }

  private Failure unusable(String why) {
    return Failure.warehouse("The engine at %s cannot be used".formatted(settings.at()))
        .because(why)
        .hint(
            "Check that it runs and can be reached. Its libraries come with {}, or from"
                + " warehouse.engine.home. Nothing was changed",
            Invocation.of("engine", "--install"));
  }

  /**
   * Asks for one thing.
   *
   * @param rows receives every line of the answer but the last
   * @return the last line
   * @throws EngineRefusal if the engine refuses it
   */
  JsonNode ask(ObjectNode request, Consumer<JsonNode> rows) {
    return ask(request, rows, () -> false);
  }

  private JsonNode ask(ObjectNode request, Consumer<JsonNode> rows, BooleanSupplier stopped) {
    request.put("id", ++number);
    long began = System.nanoTime();
    try {
      requests.write(JSON.writeValueAsString(request));
      requests.newLine();
      requests.flush();
    } catch (IOException e) {
      throw ended(e);
    }
    while (true) {
      awaitAnswer(stopped);
      JsonNode answer = next();
      if (answer.has("failed")) {
        if (answer.path("failed").asText().startsWith(STOPPED)) {
          stop();
          throw unusable("it does not answer, or it has ended our session");
        }
        throw new EngineRefusal(answer);
      }
      if (!answer.has("row") && !answer.has("columns")
          || request.get("do").asText().equals("shape")) {
        LOG.debug("{} ms: {}", (System.nanoTime() - began) / 1_000_000, request);
        return answer;
      }
      rows.accept(answer);
    }
  }

  /** Waits until it answers or ends, unless that is not wanted any more. */
  private void awaitAnswer(BooleanSupplier stopped) {
    try {
      while (!answers.ready() && !process.waitFor(POLL_MILLIS, TimeUnit.MILLISECONDS)) {
        if (stopped.getAsBoolean()) {
          process.destroy();
          stop();
          throw Failure.of(Failure.Kind.INTERRUPTED, "Stopped while the engine was at work")
              .hint("Nothing of it was entered; run the command again to continue");
        }
      }
    } catch (IOException e) {
      throw ended(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw Failure.of(Failure.Kind.INTERRUPTED, "Stopped while the engine was at work").from(e);
    }
  }

  /** A new request. */
  static ObjectNode request(String what) {
    return JSON.createObjectNode().put("do", what);
  }

  private JsonNode next() {
    try {
      String line = answers.readLine();
      if (line == null) {
        throw ended(null);
      }
      return JSON.readTree(line);
    } catch (JsonProcessingException e) {
      stop();
      throw unusable("its answer is not JSON: " + e.getOriginalMessage()).from(e);
    } catch (IOException e) {
      throw ended(e);
    }
  }

  private Failure ended(IOException cause) {
    String last = words.last();
    stop();
    Failure failure =
        Failure.warehouse("The engine at %s has ended".formatted(settings.at()))
            .because(last.isEmpty() ? "it said nothing" : "its last words: " + last)
            .hint("Nothing was changed. Try again; the engine is started again then");
    return cause == null ? failure : failure.from(cause);
  }

  private void stop() {
    if (process == null) {
      return;
    }
    try {
      requests.close(); // the end of its input is the end of its work
    } catch (IOException e) {
      process.destroy(); // it has ended already, or will now
    }
    try {
      if (!process.waitFor(GRACE_SECONDS, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      process.destroyForcibly();
      Thread.currentThread().interrupt();
    }
    process = null;
  }

  @Override
  public void close() {
    turn.lock();
    try {
      stop();
    } finally {
      turn.unlock();
    }
  }
}
