package dev.dusky.app.watch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.config.Configuration;
import dev.dusky.app.http.PageAccess;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.watch.Inbox;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentSkipListSet;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WatchEndpointTest {

  private static final String CONFIG =
      """
      warehouse: jdbc:h2:mem:none
      depots:
        yard: { at: "s3://intake/daily", endpoint: "http://127.0.0.1:1" }
        other: { at: "s3://intake-two", endpoint: "http://127.0.0.1:1" }
      feeds:
        collections: { depot: yard, files: "c/*.csv", layout: { kind: delimited }, into: a.b, columns: { no: bigint } }
        assays: { depot: other, files: "**/*.csv", layout: { kind: delimited }, into: a.c, columns: { no: bigint } }
      """;

  @TempDir Path folder;
  private final Inbox inbox = new Inbox(100);
  private final Set<String> woken = new ConcurrentSkipListSet<>();
  private final Map<String, Integer> failing = new TreeMap<>();
  private final HttpClient http = HttpClient.newHttpClient();
  private final AtomicInteger pages = new AtomicInteger();
  private boolean down;
  private WatchEndpoint endpoint;

  @BeforeEach
  void serve() throws Exception {
    Configuration configuration =
        Configuration.read(Files.writeString(folder.resolve("dusky.yaml"), CONFIG));
    ArrivalDesk desk =
        new ArrivalDesk(
            configuration, List.copyOf(configuration.feeds().values()), inbox, woken::add);
    endpoint =
        new WatchEndpoint(
            InetSocketAddress.createUnresolved("127.0.0.1", 0),
            new Secret(() -> "hush"),
            desk,
            new WatchMetrics(),
            this::page,
            () -> failing);
  }

  private String page() {
    if (down) {
      throw Failure.warehouse("The warehouse does not answer");
    }
    return "page " + pages.incrementAndGet();
  }

  @AfterEach
  void stop() {
    endpoint.close();
  }

  private HttpResponse<String> send(HttpRequest.Builder request, String path) throws Exception {
    return http.send(
        request.uri(URI.create("http://127.0.0.1:" + endpoint.port() + path)).build(),
        BodyHandlers.ofString());
  }

  private HttpResponse<String> post(String secret, String body) throws Exception {
    return send(
        HttpRequest.newBuilder()
            .header("Authorization", "Bearer " + secret)
            .POST(BodyPublishers.ofString(body)),
        "/notify");
  }

  private static String arrived(String bucket, String key) {
    return "{\"Records\":[{\"eventName\":\"s3:ObjectCreated:Put\",\"s3\":{\"bucket\":{\"name\":\"%s\"},\"object\":{\"key\":\"%s\"}}}]}"
        .formatted(bucket, key);
  }

  private String get(String path) throws Exception {
    return send(HttpRequest.newBuilder().GET(), path).body();
  }

  @Test
  void sendersOfCloudEventsMayAskWhetherTheyAreWanted() throws Exception {
    HttpRequest question =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + endpoint.port() + "/notify"))
            .method("OPTIONS", BodyPublishers.noBody())
            .header("WebHook-Request-Origin", "eventgrid.example")
            .build();
    HttpResponse<String> answer = http.send(question, BodyHandlers.ofString());
    assertEquals(200, answer.statusCode());
    assertEquals(
        "eventgrid.example", answer.headers().firstValue("WebHook-Allowed-Origin").orElseThrow());
  }

  @Test
  void anArrivalWakesItsFeedHoweverOftenItIsTold() throws Exception {
    for (int i = 0; i < 1000; i++) {
      assertEquals(202, post("hush", arrived("intake", "daily/c/a+b.csv")).statusCode());
    }
    assertEquals(Set.of("collections"), woken);
    assertEquals(List.of("c/a b.csv"), inbox.take("collections"));
    assertTrue(get("/metrics").contains("dusky_notifications_total{outcome=\"taken\"} 1000.0"));
    post("hush", arrived("intake-two", "x/y.csv"));
    post("hush", arrived("other", "z.csv"));
    assertEquals(List.of("x/y.csv", "z.csv"), inbox.take("assays"));
  }

  private HttpResponse<String> look(String query, String user) throws Exception {
    HttpRequest.Builder request = HttpRequest.newBuilder().GET();
    if (!user.isEmpty()) {
      byte[] pair = user.getBytes(StandardCharsets.UTF_8);
      request.header("Authorization", "Basic " + Base64.getEncoder().encodeToString(pair));
    }
    return send(request, "/" + query);
  }

  @Test
  void theReportIsForThoseWhoKnowTheSecretOrTheLink() throws Exception {
    String link = PageAccess.query(new Secret(() -> "hush"));
    assertFalse(link.contains("hush"));
    assertEquals(200, look(link, "").statusCode());
    HttpResponse<String> page = look("", "anna:hush");
    assertEquals("page 1", page.body(), "a page is served for a while");
    assertEquals("no-store", page.headers().firstValue("Cache-Control").orElse(""));
    for (String user : List.of("", "hush", "anna:", "anna:Hush", "anna:hush:", "\u00e9:\u00e9")) {
      HttpResponse<String> refused = look("", user);
      assertEquals(401, refused.statusCode(), user);
    }
    for (String query :
        List.of("?token=", "?token=hush", link + "x", link.toUpperCase(Locale.ROOT))) {
      assertEquals(401, look(query, "").statusCode(), query);
    }
    assertEquals(405, send(HttpRequest.newBuilder().DELETE(), "/").statusCode());
    assertEquals(1, pages.get(), "who is refused costs no page");
  }

  @Test
  void aReportThatCannotBeMadeIsSaid() throws Exception {
    down = true;
    HttpResponse<String> answer = look("", "anna:hush");
    assertEquals(503, answer.statusCode());
    assertTrue(answer.body().contains("The warehouse does not answer"), answer.body());
    down = false;
    assertEquals(200, look("", "anna:hush").statusCode());
  }

  @Test
  void whatConcernsNobodyIsIgnored() throws Exception {
    for (String key :
        List.of(
            "daily/d/a.csv",
            "c/a.csv",
            "daily/c/../c/a.csv",
            "daily/c/a%0ab.csv",
            "daily/" + "c".repeat(2000))) {
      HttpResponse<String> answer = post("hush", arrived("intake", key));
      assertEquals(202, answer.statusCode());
      assertTrue(answer.body().contains("\"ignored\":1"), answer.body());
    }
    post("hush", arrived("elsewhere", "daily/c/a.csv"));
    assertEquals(Set.of(), woken);
  }

  @Test
  void strangersAndNonsenseAreTurnedAway() throws Exception {
    assertEquals(401, post("wrong", arrived("intake", "daily/c/a.csv")).statusCode());
    assertEquals(
        401,
        send(HttpRequest.newBuilder().POST(BodyPublishers.ofString("{}")), "/notify").statusCode());
    assertEquals(405, send(HttpRequest.newBuilder().GET(), "/notify").statusCode());
    assertEquals(400, post("hush", "{").statusCode());
    assertEquals(413, post("hush", " ".repeat(WatchEndpoint.MOST_BYTES + 1)).statusCode());
    assertEquals(404, send(HttpRequest.newBuilder().GET(), "/x").statusCode());
    assertEquals(Set.of(), woken);
    assertTrue(get("/metrics").contains("dusky_notifications_total{outcome=\"refused\"} 5.0"));
    assertTrue(get("/metrics").endsWith("# EOF\n"));
  }

  @Test
  void healthIsLostOnceSomethingFailsAgainAndAgain() throws Exception {
    failing.put("assays", 2);
    assertEquals(200, send(HttpRequest.newBuilder().GET(), "/health").statusCode());
    failing.put("assays", 3);
    HttpResponse<String> sick = send(HttpRequest.newBuilder().GET(), "/health");
    assertEquals(503, sick.statusCode());
    assertTrue(sick.body().contains("\"assays\":3"), sick.body());
  }

  @Test
  void slowStrangersBlockNobody() throws Exception {
    List<Socket> slow = new ArrayList<>();
    try {
      for (int i = 0; i < 200; i++) {
        Socket socket = new Socket("127.0.0.1", endpoint.port());
        slow.add(socket);
        String head =
            i % 2 == 0
                ? "POST /notify HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\n{"
                : "POST /notify HTTP/1.1\r\nHost: x\r\nAuth";
        socket.getOutputStream().write(head.getBytes(StandardCharsets.US_ASCII));
        socket.getOutputStream().flush();
      }
      assertEquals(200, send(HttpRequest.newBuilder().GET(), "/health").statusCode());
      assertEquals(202, post("hush", arrived("intake", "daily/c/a.csv")).statusCode());
      // Strangers are answered before their body has come, and are cut off soon.
      slow.get(0).setSoTimeout(20_000);
      String answer =
          new String(slow.get(0).getInputStream().readAllBytes(), StandardCharsets.US_ASCII);
      assertTrue(answer.startsWith("HTTP/1.1 401 "), answer);
      slow.get(1).setSoTimeout(3 * dev.dusky.app.http.HttpService.HEAD_MILLIS);
      slow.get(1).getInputStream().readAllBytes(); // ends, since the head never comes
    } finally {
      for (Socket socket : slow) {
        socket.close();
      }
    }
  }
}
