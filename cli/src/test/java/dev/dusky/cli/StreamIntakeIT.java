package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.standin.Faults;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Records pushed to the built program over HTTP. */
class StreamIntakeIT extends StoreTesting {

  private static final int BATCH = 20;

  private final HttpClient client = HttpClient.newHttpClient();
  private Process process;
  private int port;

  @BeforeEach
  void tellTheSecret() throws IOException {
    dusky.file("word.txt", "word");
  }

  @AfterEach
  void stop() {
    if (process != null) {
      process.destroyForcibly();
    }
  }

  private void listen(String roll) throws Exception {
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    process =
        dusky.start(
            "stage",
            "store",
            "--as",
            "ev/{n}.jsonl.gz",
            "--roll",
            roll,
            "--listen",
            "127.0.0.1:" + port,
            "--secret",
            "file:word.txt");
    while (true) {
      assertTrue(process.isAlive());
      try {
        HttpRequest health =
            HttpRequest.newBuilder(URI.create("http://127.0.0.1:%d/health".formatted(port)))
                .build();
        if (client.send(health, HttpResponse.BodyHandlers.ofString()).statusCode() == 200) {
          return;
        }
      } catch (IOException notYet) {
        Thread.onSpinWait();
      }
    }
  }

  private HttpResponse<String> post(String word, String body)
      throws IOException, InterruptedException {
    return client.send(
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:%d/records".formatted(port)))
            .header("Authorization", "Bearer " + word)
            .POST(HttpRequest.BodyPublishers.ofString(body))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  /** Ends the program as a person would and gives all lines that are staged. */
  private List<String> staged() throws Exception {
    if (process.isAlive()) {
      process.toHandle().destroy();
      assertTrue(process.waitFor(60, TimeUnit.SECONDS));
      assertEquals(0, process.exitValue());
    }
    return storedLines();
  }

  @Test
  void everyFormOfRecordsIsTakenAndWhatIsNoneIsRefusedWhole() throws Exception {
    listen("64MB,1 h");
    assertEquals(401, post("other", "{\"a\":1}").statusCode());
    assertEquals("{\"kept\":2}", post("word", "{\"a\":1}\n{\"a\":\n2}\n").body());
    String event =
        "{\"specversion\":\"1.0\",\"id\":\"%d\",\"source\":\"/dairy\",\"type\":\"docket\",\n\"data\":{}}";
    assertEquals(
        "{\"kept\":2}",
        post("word", "[" + event.formatted(1) + ",\n" + event.formatted(2) + "]").body());
    assertEquals("{\"kept\":0}", post("word", "").body());
    for (String bad : List.of("{\"a\":1}\n{\"b\":", "[{},", "{\"a\":1}\nhello\n", "{\"a\":01}")) {
      HttpResponse<String> answer = post("word", bad);
      assertEquals(400, answer.statusCode(), bad);
      assertTrue(answer.body().contains("record "), answer.body());
    }
    List<String> lines = staged();
    assertEquals(4, lines.size(), lines.toString());
    assertEquals("{\"a\": 2}", lines.get(1));
    assertTrue(lines.get(3).contains("\"id\":\"2\""), lines.get(3));
  }

  /** Killed at any time: what was answered for arrives, each record once and whole. */
  @Test
  void whatWasAnsweredForArrivesOnce() throws Exception {
    Set<Integer> answered = ConcurrentHashMap.newKeySet();
    AtomicInteger next = new AtomicInteger();
    for (int round = 0; round < 2; round++) {
      listen("30kB,1 h");
      int until = answered.size() + 1_500 + 700 * round;
      List<Thread> clients =
          IntStream.range(0, 4)
              .mapToObj(i -> new Thread(() -> pushUntilItDies(next, answered, until)))
              .toList();
      clients.forEach(Thread::start);
      while (answered.size() < until) {
        Thread.onSpinWait();
      }
      process.destroyForcibly().waitFor();
      for (Thread pushing : clients) {
        pushing.join();
      }
    }
    listen("30kB,1 h");
    List<Integer> staged =
        staged().stream()
            .map(line -> Integer.parseInt(line.replaceAll("\\D", "")))
            .collect(Collectors.toList());
    Set<Integer> once = new HashSet<>(staged);
    assertEquals(once.size(), staged.size(), "a record arrived twice");
    Set<Integer> lost = new HashSet<>(answered);
    lost.removeAll(once);
    assertEquals(Set.of(), lost);
  }

  private void pushUntilItDies(AtomicInteger next, Set<Integer> answered, int until) {
    try {
      while (process.isAlive() && answered.size() < 2 * until) {
        int first = next.getAndAdd(BATCH);
        String body =
            IntStream.range(first, first + BATCH)
                .mapToObj("{\"n\":%d}\n"::formatted)
                .collect(Collectors.joining());
        if (post("word", body).statusCode() == 200) {
          IntStream.range(first, first + BATCH).forEach(answered::add);
        }
      }
    } catch (IOException itIsGone) {
      // Not answered: a client would send these again.
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Test
  void clientsAreAskedToWaitWhenTheDepotDoesNotTakeFiles() throws Exception {
    store.faults().deny(Faults.Right.WRITE);
    listen("1 B,1 h");
    HttpResponse<String> answer = post("word", "{\"n\":0}");
    int kept = 0;
    while (answer.statusCode() == 200) {
      kept++;
      answer = post("word", "{\"n\":" + kept + "}");
    }
    assertEquals(503, answer.statusCode());
    assertTrue(answer.headers().firstValue("Retry-After").isPresent());
    store.faults().clear();
    while (answer.statusCode() != 200) {
      answer = post("word", "{\"n\":" + kept + "}");
    }
    assertEquals(kept + 1, staged().size());
  }

  @Test
  void theSecretIsAskedForAndNeverWrittenDown() throws Exception {
    List<String> words = List.of("stage", "store", "--as", "{n}.jsonl", "--listen");
    List<String> none = new ArrayList<>(words);
    none.add("127.0.0.1:0");
    dusky.run(none.toArray(String[]::new)).expect(2);
    none.addAll(List.of("--secret", "word"));
    dusky.run(none.toArray(String[]::new)).expect(2);
    none.set(none.size() - 1, "env:NOT_SET");
    dusky.run(none.toArray(String[]::new)).expect(3);
    List<String> odd = new ArrayList<>(words);
    odd.addAll(List.of("here", "--secret", "file:word.txt"));
    dusky.run(odd.toArray(String[]::new)).expect(2);
  }
}
