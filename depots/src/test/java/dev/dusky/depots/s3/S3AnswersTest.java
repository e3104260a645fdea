package dev.dusky.depots.s3;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.standin.Faults;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Answers that are wrong, broken off, from something else, or that nobody gives. */
class S3AnswersTest {

  private static final String PAGE = "<!DOCTYPE html><html><body>Please log in</body></html>";

  @TempDir Path folder;
  private StandIn store;
  private Depot depot;

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(folder.resolve("intake"));
    store = StandIn.start(folder, "key", "secret", 0);
    depot = S3StandInTest.open("s3://intake/daily", store.endpoint(), "key", "secret");
  }

  @AfterEach
  void stop() {
    depot.close();
    store.close();
  }

  private void answer(int status, String body) {
    store.faults().answer(100, new Faults.Answer(status, Map.of(), body));
  }

  private static String failure(Executable work) {
    Failure failure = assertThrows(Failure.class, work);
    assertEquals(Failure.Kind.DEPOT, failure.kind(), failure.getMessage());
    assertFalse(failure.hint().text().isEmpty(), failure.getMessage());
    return failure.getMessage();
  }

  private static void assertSays(String words, Executable work) {
    String message = failure(work);
    assertTrue(message.contains(words), message);
  }

  private static Depot at(String place, String endpoint) {
    return S3StandInTest.open(place, endpoint, "key", "secret");
  }

  private Path local() throws IOException {
    return Files.writeString(folder.resolve("local.csv"), "a,b\n");
  }

  @Test
  void keysThatXmlCannotCarryAreListed() throws IOException {
    List<String> paths =
        List.of("a\u0001b.csv", "a b+c%.csv", "ä/\uD83D\uDE00.csv", "tab\there.csv", "z&<>.csv");
    for (String path : paths) {
      depot.put(path, local());
    }
    List<String> listed = new ArrayList<>();
    depot.list("").forEachRemaining(file -> listed.add(file.path()));
    assertEquals(new TreeSet<>(paths), new TreeSet<>(listed));
    for (String path : listed) {
      assertTrue(depot.look(path).isPresent(), path);
    }
  }

  @Test
  void aPageInPlaceOfAnyAnswerIsNotTakenForOne() throws IOException {
    StagedFile file = depot.put("a.csv", local());
    answer(200, PAGE);
    String words = "does not speak S3";
    assertSays(words, () -> depot.list(""));
    assertSays(words, () -> depot.look("a.csv"));
    assertSays(words, () -> depot.open(file));
    assertSays(words, () -> depot.bytes(file, 0, 4));
    assertSays(words, () -> depot.put("b.csv", local()));
    assertSays(words, () -> depot.move(file, "done/a.csv"));
    assertSays(words, () -> depot.same(file, Files.writeString(local(), "4321")));
    answer(404, PAGE);
    assertSays(words, () -> depot.list(""));
    answer(200, "");
    assertSays(words, () -> depot.list(""));
  }

  private static String page(String inside) {
    return "<?xml version=\"1.0\"?><ListBucketResult>" + inside + "</ListBucketResult>";
  }

  private static String object(String key) {
    return "<Contents><Key>daily/%s</Key><LastModified>2026-03-02T05:00:00Z</LastModified>"
            .formatted(key)
        + "<ETag>\"e\"</ETag><Size>4</Size></Contents>";
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "<Name>intake</Name><KeyCount>2</KeyCount><IsTruncated>false</IsTruncated>",
        "<Name>intake</Name><KeyCount>1</KeyCount>",
        "<Name>intake</Name><IsTruncated>false</IsTruncated>",
        "<KeyCount>1</KeyCount><IsTruncated>false</IsTruncated>",
        "<Name>intake</Name><KeyCount>1</KeyCount><IsTruncated>true</IsTruncated>",
      })
  void aListingThatIsNotWholeIsAFailure(String about) {
    answer(200, page(about + object("a.csv")));
    assertSays("Listing in depot yard failed", () -> depot.list(""));
  }

  @Test
  void aListingThatBreaksOffInsideTheXmlIsAFailureThatNamesThePlace() {
    String whole =
        page(
            "<Name>intake</Name><KeyCount>1</KeyCount><IsTruncated>false</IsTruncated>"
                + object("a.csv"));
    for (int end = 1; end < whole.length(); end += 7) {
      answer(200, whole.substring(0, end));
      String message = failure(() -> depot.list("").forEachRemaining(file -> {}));
      assertTrue(message.contains("depot yard"), end + ": " + message);
    }
    answer(
        200,
        page(
            object("").replace("daily/", "")
                + "<Name>intake</Name><KeyCount>1</KeyCount>"
                + "<IsTruncated>false</IsTruncated>"));
    assertSays("object without a key", () -> depot.list("").next());
  }

  @Test
  void aPageThatFollowsItselfEndsTheListing() {
    answer(
        200,
        page(
            "<Name>intake</Name><KeyCount>1</KeyCount><IsTruncated>true</IsTruncated>"
                + "<NextContinuationToken>t</NextContinuationToken>"
                + object("a.csv")));
    assertSays("this one again", () -> depot.list("").forEachRemaining(file -> {}));
  }

  @Test
  void otherBytesThanTheListedOnesAreNotRead() throws IOException {
    StagedFile file = depot.put("a.csv", local());
    store
        .faults()
        .answer(100, new Faults.Answer(200, Map.of("ETag", "\"other\""), "something else"));
    assertSays("changed since it was listed", () -> depot.open(file));
    store
        .faults()
        .answer(100, new Faults.Answer(200, Map.of("ETag", '"' + file.mark() + '"'), "a,b\n"));
    assertSays("the answer is the whole object", () -> depot.bytes(file, 2, 2));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "400|AuthorizationHeaderMalformed|<Region>north-1</Region>|Set region: north-1 at the depot",
        "301|PermanentRedirect||Set region: at the depot",
        "403|RequestTimeTooSkewed||The clock of this machine is wrong",
        "400|ExpiredToken||have expired",
        "403|ExpiredToken||have expired",
        "400|InvalidToken||does not accept the credentials",
        "403|InvalidAccessKeyId||does not know the access key",
        "403|SignatureDoesNotMatch||does not accept the secret key",
        "403|InvalidObjectState||archive class",
        "400|KMS.DisabledException||key service",
        "403|AccessDenied|<Message>not allowed to use KMS key 1</Message>|key service",
        "404|NoSuchBucket||has no bucket 'intake'",
        "400|InvalidBucketName||not a valid bucket name",
        "404|NoSuchKey||no longer exists",
        "409|OperationAborted||another request changes the same object",
        "400|BadDigest||bytes changed on their way",
        "400|EntityTooLarge||larger than the store allows",
        "507|StorageFull||is full",
        "403|QuotaExceeded||is full",
        "403|AccountProblem||disabled the account",
        "403|AccessDenied||denies the right to list files",
        "403|AccessDenied||s3:ListBucket on bucket 'intake'",
        "403|SomethingNew||Correct what the store names",
        "401|Unauthorized||refuses to list",
        "503|SlowDown||after several tries",
        "500|InternalError||after several tries",
        "501|NotImplemented||does not offer this operation",
        "405|MethodNotAllowed||does not offer this operation",
        "400|InvalidRequest||the endpoint rejects the request",
        "412|PreconditionFailed||the endpoint rejects the request",
      })
  void eachCauseIsNamedWithTheServersOwnWords(
      int status, String code, String more, String expected) {
    String own = "the store's own words " + code;
    String message =
        more != null && more.contains("Message") ? "" : "<Message>" + own + "</Message>";
    answer(
        status,
        "<Error><Code>" + code + "</Code>" + message + (more == null ? "" : more) + "</Error>");
    String told = failure(() -> depot.list(""));
    assertTrue(told.contains(expected), told);
    assertTrue(told.contains(code), told);
    assertTrue(!message.isEmpty() ? told.contains(own) : told.contains("KMS key 1"), told);
  }

  @Test
  void theRegionInAHeaderAndARedirectAreUsed() {
    store
        .faults()
        .answer(100, new Faults.Answer(301, Map.of("x-amz-bucket-region", "south-2"), ""));
    assertSays("Set region: south-2", () -> depot.list(""));
    store
        .faults()
        .answer(100, new Faults.Answer(302, Map.of("Location", "http://login.example/"), ""));
    assertSays("redirects to http://login.example/", () -> depot.list(""));
  }

  @Test
  void aForbiddenLookWithoutReasonSaysSo() {
    answer(403, "");
    assertSays("names no reason", () -> depot.look("a.csv"));
  }

  private static DepotAddress address(
      String at, String endpoint, Optional<String> key, Optional<String> secret) {
    DepotAddress bare = DepotAddress.of("yard", at).at(endpoint);
    return key.isEmpty()
        ? bare.with(new Credentials.Anonymous())
        : bare.signed(new Secret(key::get), new Secret(secret::get));
  }

  @ParameterizedTest
  @CsvSource({
    "127.0.0.1:9000, that is not a URL",
    "localhost:9000, does not begin with http",
    "store.example, does not begin with http",
    "http://, that is not a URL",
    "http:///x, names no host",
    "'http://a b', that is not a URL",
    "http://store.example/intake, contains the bucket 'intake'",
    "http://store.example/intake/, contains the bucket 'intake'",
    "https://intake.store.example, contains the bucket 'intake'",
    "http://user@store.example, more than scheme",
  })
  void endpointsThatCannotWorkAreConfigurationErrors(String endpoint, String expected) {
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                Depots.open(
                    address("s3://intake", endpoint, Optional.empty(), Optional.empty()),
                    Path.of(".")));
    assertEquals(Failure.Kind.CONFIGURATION, failure.kind());
    assertTrue(failure.getMessage().contains(expected), failure.getMessage());
  }

  @Test
  void wrongSchemesAreTold() throws IOException {
    try (ServerSocket plain = answering("HTTP/1.1 400 Bad Request\r\n\r\n".getBytes())) {
      assertSays(
          "the port does not speak TLS",
          () -> at("s3://intake", "https://127.0.0.1:" + plain.getLocalPort()).list(""));
    }
    // Servers of TLS answer anything else with an alert.
    try (ServerSocket tls = answering(new byte[] {21, 3, 1, 0, 2, 2, 40})) {
      assertSays(
          "write the endpoint with https://",
          () -> at("s3://intake", "http://127.0.0.1:" + tls.getLocalPort()).list(""));
    }
    answer(400, "<html><body>The plain HTTP request was sent to HTTPS port</body></html>");
    assertSays("expects TLS", () -> depot.list(""));
  }

  private static ServerSocket answering(byte[] bytes) throws IOException {
    ServerSocket server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    Thread thread = new Thread(() -> answerEach(server, bytes));
    thread.setDaemon(true);
    thread.start();
    return server;
  }

  private static void answerEach(ServerSocket server, byte[] bytes) {
    while (!server.isClosed()) {
      try (Socket client = server.accept();
          InputStream in = client.getInputStream()) {
        in.read(new byte[100]);
        client.getOutputStream().write(bytes);
      } catch (IOException e) {
        // The test is over, or this client went away.
      }
    }
  }
}
