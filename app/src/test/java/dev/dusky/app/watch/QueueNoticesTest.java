package dev.dusky.app.watch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.notice.Notice;
import dev.dusky.core.notice.NoticeQueue;
import dev.dusky.depots.Depots;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import org.elasticmq.rest.sqs.SQSRestServer;
import org.elasticmq.rest.sqs.SQSRestServerBuilder;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.sqs.SqsClient;
import software.amazon.awssdk.services.sqs.model.QueueAttributeName;

/** A watcher that takes notices from a queue of a server that others wrote. */
class QueueNoticesTest {

  private static SQSRestServer server;
  private static String endpoint;
  private static SqsClient client;

  @TempDir Path folder;
  private final BlockingQueue<WatchEvent> events = new LinkedBlockingQueue<>();
  private final AtomicBoolean stopped = new AtomicBoolean();
  private final AtomicReference<WatchControl> control = new AtomicReference<>();
  private final WatchListener listener =
      new WatchListener() {
        @Override
        public void event(WatchEvent event) {
          events.add(event);
        }

        @Override
        public void begun(WatchControl given) {
          control.set(given);
        }
      };
  private String queueUrl;
  private Configuration configuration;
  private Thread watching;

  @BeforeAll
  static void serve() {
    server = SQSRestServerBuilder.withInterface("127.0.0.1").withPort(0).start();
    endpoint = "http://127.0.0.1:" + server.waitUntilStarted().localAddress().getPort();
    client =
        SqsClient.builder()
            .httpClient(UrlConnectionHttpClient.create())
            .endpointOverride(URI.create(endpoint))
            .region(Region.US_EAST_1)
            .credentialsProvider(
                StaticCredentialsProvider.create(AwsBasicCredentials.create("key", "secret")))
            .build();
  }

  @AfterAll
  static void stopServer() {
    client.close();
    server.stopAndWait();
  }

  @BeforeEach
  void watch() throws Exception {
    queueUrl = client.createQueue(request -> request.queueName("q" + System.nanoTime())).queueUrl();
    Files.createDirectories(folder.resolve("yard/in"));
    Files.writeString(folder.resolve("key"), "key");
    Path file =
        Files.writeString(
            folder.resolve("dusky.yaml"),
            """
            warehouse: jdbc:h2:file:./warehouse
            depots: { yard: "file:yard" }
            layouts: { csv: { kind: delimited } }
            feeds:
              dockets: { depot: yard, files: "in/*.csv", layout: csv, into: intake.docket, create: true, columns: { no: bigint } }
            watch:
              interval: 1 d
              notices:
                queue: "sqs://%s"
                endpoint: "%s"
                credentials: { access-key: file:key, secret-key: file:key }
            """
                .formatted(queueUrl.replaceFirst("http://", ""), endpoint));
    configuration = Configuration.read(file);
    watching =
        new Thread(
            () -> {
              try (Workspace workspace = new Workspace(file)) {
                new WatchFeeds(workspace, listener, report -> "", stopped::get)
                    .run(List.copyOf(configuration.feeds().values()), Optional.empty(), false);
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            });
    watching.start();
    await(event -> event.text().contains("taking notices"));
  }

  @AfterEach
  void stop() throws InterruptedException {
    stopped.set(true);
    watching.join();
  }

  private WatchEvent await(Predicate<WatchEvent> wanted) throws InterruptedException {
    while (true) {
      WatchEvent event = events.poll(60, TimeUnit.SECONDS);
      if (event == null) {
        throw new AssertionError("the event did not come");
      }
      if (wanted.test(event)) {
        return event;
      }
    }
  }

  private void file(String name) throws Exception {
    Path file =
        Files.writeString(folder.resolve("yard/in").resolve(name), "no\n" + name.length() + "\n");
    Files.setLastModifiedTime(file, FileTime.from(Instant.now().minusSeconds(60)));
  }

  private void send(String body) {
    client.sendMessage(request -> request.queueUrl(queueUrl).messageBody(body));
  }

  private static String event(String name) {
    return """
        {"specversion":"1.0","type":"stored","id":"1","source":"yard","subject":"in/%s"}"""
        .formatted(name);
  }

  private int messages() {
    Map<QueueAttributeName, String> counts =
        client
            .getQueueAttributes(
                request -> request.queueUrl(queueUrl).attributeNames(QueueAttributeName.ALL))
            .attributes();
    return Integer.parseInt(counts.get(QueueAttributeName.APPROXIMATE_NUMBER_OF_MESSAGES))
        + Integer.parseInt(
            counts.get(QueueAttributeName.APPROXIMATE_NUMBER_OF_MESSAGES_NOT_VISIBLE));
  }

  private void untilEmpty() throws InterruptedException {
    for (int i = 0; messages() > 0; i++) {
      assertTrue(i < 300, "the notices were not deleted");
      TimeUnit.MILLISECONDS.sleep(100);
    }
  }

  @Test
  void aNoticeLoadsItsFileAndIsDeletedOnceThatIsPosted() throws Exception {
    file("a.csv");
    send(event("a.csv"));
    await(event -> event.kind().equals("file") && event.text().startsWith("posted in/a.csv"));
    untilEmpty();
  }

  @Test
  void aNoticeThatATopicWrappedIsUnderstood() throws Exception {
    file("b.csv");
    send(
        "{\"Type\":\"Notification\",\"MessageId\":\"7\",\"Message\":\"%s\"}"
            .formatted(event("b.csv").replace("\"", "\\\"")));
    await(event -> event.kind().equals("file") && event.text().startsWith("posted in/b.csv"));
    untilEmpty();
  }

  @Test
  void aPausedFeedKeepsItsNoticesUntilItIsResumed() throws Exception {
    file("first.csv");
    send(event("first.csv"));
    await(event -> event.kind().equals("file") && event.text().startsWith("posted in/first"));
    untilEmpty();
    control.get().pause("dockets");
    file("c.csv");
    send(event("c.csv"));
    await(event -> event.kind().equals("pause"));
    assertEquals(1, messages());
    control.get().resume("dockets");
    control.get().scan("dockets");
    await(event -> event.kind().equals("file") && event.text().startsWith("posted in/c.csv"));
    untilEmpty();
  }

  @Test
  void noticesOfFilesThatAreGoneOrOfNoFeedAreDeleted() throws Exception {
    send(event("gone.csv"));
    send(event("other.json"));
    untilEmpty();
  }

  @Test
  void whatCannotBeUnderstoodStaysInTheQueueAndIsReportedOnce() throws Exception {
    send("good morning");
    WatchEvent event = await(e -> e.kind().equals("notices"));
    assertTrue(event.text().contains("cannot be understood"), event.text());
    assertEquals(1, messages());
  }

  @Test
  void aQueueGivesBackWhatIsHiddenNoLonger() throws Exception {
    String other = client.createQueue(r -> r.queueName("o" + System.nanoTime())).queueUrl();
    client.sendMessage(r -> r.queueUrl(other).messageBody("x"));
    Configuration elsewhere =
        Configuration.read(
            Files.writeString(
                folder.resolve("other.yaml"),
                Files.readString(folder.resolve("dusky.yaml"))
                    .replace(queueUrl.replaceFirst("http://", ""), other.substring(7))));
    try (NoticeQueue queue = Depots.open(elsewhere.watch().notices().orElseThrow())) {
      Notice notice = queue.receive(Duration.ofSeconds(5), Duration.ofSeconds(60)).get(0);
      assertEquals(List.of(), queue.receive(Duration.ZERO, Duration.ofSeconds(60)));
      queue.hide(notice, Duration.ZERO);
      Notice again = queue.receive(Duration.ofSeconds(5), Duration.ofSeconds(60)).get(0);
      assertEquals(notice.body(), again.body());
      queue.delete(again);
    }
  }

  @Test
  void aProbeSaysWhetherTheNoticeOfAStagedFileCame() throws Exception {
    stopped.set(true);
    watching.join();
    try (Workspace workspace = new Workspace(folder.resolve("dusky.yaml"))) {
      Feed feed = configuration.feed("dockets");
      ProbeNotices.Outcome lost = new ProbeNotices(workspace, Duration.ofMillis(1)).run(feed);
      assertTrue(!lost.came() && lost.words().contains("none came at all"), lost.words());
      Thread store = new Thread(this::notifyOfProbe);
      store.start();
      ProbeNotices.Outcome came = new ProbeNotices(workspace, Duration.ofSeconds(60)).run(feed);
      store.join();
      assertTrue(came.came(), came.words());
      assertEquals(0, folder.resolve("yard/in").toFile().list().length);
    }
  }

  /** Does what a store does: sends a notice of the file that appears. */
  private void notifyOfProbe() {
    String[] names = {};
    while (names.length == 0) {
      Thread.onSpinWait();
      names = folder.resolve("yard/in").toFile().list((in, name) -> !name.endsWith("part"));
    }
    send(event(names[0]));
  }

  @Test
  void aQueueThatIsNotThereSaysSo() throws Exception {
    Configuration none =
        Configuration.read(
            Files.writeString(
                folder.resolve("none.yaml"),
                Files.readString(folder.resolve("dusky.yaml"))
                    .replaceFirst("(queue: \"sqs://[^/]+/[^/]+/)[^\"]+", "$1none")));
    try (NoticeQueue queue = Depots.open(none.watch().notices().orElseThrow())) {
      Failure failure =
          assertThrows(Failure.class, () -> queue.receive(Duration.ZERO, Duration.ofSeconds(10)));
      assertTrue(failure.getMessage().contains("There is no queue"), failure.getMessage());
    }
  }
}
