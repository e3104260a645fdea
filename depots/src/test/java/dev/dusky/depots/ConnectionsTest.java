package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpServer;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.address.Storing;
import dev.dusky.depots.network.ProxyChoice;
import dev.dusky.standin.BlobStandIn;
import dev.dusky.standin.LoopbackCertificate;
import dev.dusky.standin.StandIn;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What depots declare about connections and storing is what happens. */
class ConnectionsTest {

  private static final String KEY = "c2VjcmV0IGtleSBvZiB0aGUgYWNjb3VudA==";

  @TempDir Path folder;

  private static Secret secret(String text) {
    return new Secret(() -> text);
  }

  private static Network network(Path caFile, URI proxy) {
    return new Network(
        Optional.ofNullable(caFile),
        Optional.ofNullable(proxy).map(at -> new Network.Proxy(at, Optional.empty())),
        Network.USUAL.connect(),
        Network.USUAL.answer(),
        Optional.empty());
  }

  private static Depot open(DepotAddress address) {
    return Depots.open(address, Path.of("."));
  }

  @Test
  void serversOfADeclaredAuthorityAreTrustedAndOthersNot() throws Exception {
    LoopbackCertificate authority = new LoopbackCertificate(folder);
    Files.createDirectories(folder.resolve("blobs/intake"));
    try (BlobStandIn store =
        BlobStandIn.start(folder.resolve("blobs"), "wrenfold", KEY, authority.server())) {
      DepotAddress address =
          DepotAddress.of("yard", "azure://wrenfold/intake")
              .at(store.endpoint())
              .with(new Credentials.AccountKey(secret(KEY)));
      assertFalse(open(address.with(network(authority.pem(), null))).list("").hasNext());
      String message =
          assertThrows(Failure.class, () -> open(address).list("").hasNext()).getMessage();
      assertTrue(message.contains("with ca-file: at the depot"), message);
      DepotAddress web =
          DepotAddress.of("partner", store.endpoint() + "/x").with(new Credentials.Anonymous());
      assertTrue(
          assertThrows(Failure.class, () -> open(web).look("a"))
              .getMessage()
              .contains("with ca-file: at the depot"));
      assertTrue(
          assertThrows(
                  Failure.class, () -> open(web.with(network(authority.pem(), null))).look("a"))
              .getMessage()
              .contains("answered 4"));
      DepotAddress s3 =
          DepotAddress.of("yard", "s3://intake")
              .at(store.endpoint())
              .signed(secret("k"), secret("s"));
      assertTrue(
          assertThrows(Failure.class, () -> open(s3).list(""))
              .getMessage()
              .contains("with ca-file: at the depot"));
      assertTrue(
          assertThrows(Failure.class, () -> open(s3.with(network(authority.pem(), null))).list(""))
              .getMessage()
              .contains("the endpoint answered"));
      Path text = Files.writeString(folder.resolve("no.pem"), "no certificate");
      assertEquals(
          Failure.Kind.CONFIGURATION,
          assertThrows(Failure.class, () -> open(web.with(network(text, null))).look("a")).kind());
    }
  }

  /** The stores answer requests in the form that proxies receive; their hosts do not exist. */
  @Test
  void requestsGoThroughTheDeclaredProxy() throws Exception {
    Files.createDirectories(folder.resolve("buckets/intake"));
    Files.createDirectories(folder.resolve("blobs/intake"));
    try (StandIn s3 = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
        BlobStandIn blobs = BlobStandIn.start(folder.resolve("blobs"), "wrenfold", KEY)) {
      Depot first =
          open(
              DepotAddress.of("yard", "s3://intake")
                  .at("http://store.invalid:9000")
                  .signed(secret("key"), secret("secret"))
                  .with(network(null, URI.create(s3.endpoint()))));
      assertFalse(first.list("").hasNext());
      Depot second =
          open(
              DepotAddress.of("yard", "azure://wrenfold/intake")
                  .at("http://store.invalid:9000")
                  .with(new Credentials.AccountKey(secret(KEY)))
                  .with(network(null, URI.create(blobs.endpoint()))));
      assertFalse(second.list("").hasNext());
      assertTrue(second.probe().get(0).attempt().run().remark().startsWith("connected to proxy"));
    }
  }

  @ParameterizedTest
  @CsvSource({
    "https://far.example, HTTPS_PROXY, http://gate.example:3128, '', http://gate.example:3128",
    "http://far.example, http_proxy, gate.example:3128, '', http://gate.example:3128",
    "https://far.example, HTTP_PROXY, http://gate.example:3128, '', ",
    "https://a.near.example, HTTPS_PROXY, http://gate.example:3128, 'x,.near.example', ",
    "https://far.example, HTTPS_PROXY, http://gate.example:3128, '*', ",
  })
  void theEnvironmentNamesTheProxy(
      String target, String variable, String value, String not, String expected) {
    ProxyChoice choice = new ProxyChoice(Network.USUAL, Map.of(variable, value, "NO_PROXY", not));
    assertEquals(Optional.ofNullable(expected).map(URI::create), choice.proxy(URI.create(target)));
  }

  @Test
  void whatIsDeclaredAboutStoringGoesWithEachObject() throws Exception {
    Map<String, String> headers = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
    HttpServer server =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
    server.createContext(
        "/",
        exchange -> {
          exchange.getRequestHeaders().forEach((name, values) -> headers.put(name, values.get(0)));
          exchange.getRequestBody().readAllBytes();
          // A key service gives etags that are no digests, in the form of one.
          exchange.getResponseHeaders().set("ETag", "\"" + "0".repeat(32) + "\"");
          exchange.getResponseHeaders().set("x-amz-server-side-encryption", "aws:kms");
          exchange.sendResponseHeaders(200, -1);
          exchange.close();
        });
    server.start();
    try {
      open(DepotAddress.of("yard", "s3://intake")
              .at("http://127.0.0.1:" + server.getAddress().getPort())
              .signed(secret("key"), secret("secret"))
              .with(
                  new Storing(
                      Optional.empty(),
                      Optional.of(new Storing.Encryption(Optional.of("dairy-key"))),
                      Optional.of("STANDARD_IA"),
                      Map.of("team", "dairy & farm"),
                      true)))
          .put("a.csv", Files.writeString(folder.resolve("a.csv"), "no\n"));
    } finally {
      server.stop(0);
    }
    assertEquals("aws:kms", headers.get("x-amz-server-side-encryption"));
    assertEquals("dairy-key", headers.get("x-amz-server-side-encryption-aws-kms-key-id"));
    assertEquals("STANDARD_IA", headers.get("x-amz-storage-class"));
    assertEquals("team=dairy+%26+farm", headers.get("x-amz-tagging"));
    assertEquals("requester", headers.get("x-amz-request-payer"));
    assertEquals("text/csv", headers.get("Content-Type"));
  }

  @Test
  void googleStorageIsReachedByTheS3Protocol() throws Exception {
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0)) {
      DepotAddress address =
          DepotAddress.of("yard", "gs://intake/daily").signed(secret("key"), secret("secret"));
      Depot depot = open(address.at(store.endpoint()));
      depot.put("a.csv", Files.writeString(folder.resolve("a.csv"), "no\n"));
      assertEquals("a.csv", depot.list("").next().path());
      // Without an endpoint the vendor's is asked, here through a proxy that is the stand-in.
      Depot vendor = open(address.with(network(null, URI.create("http://127.0.0.1:1"))));
      String where = vendor.probe().get(0).name();
      assertEquals("resolve", where);
      String message =
          assertThrows(Failure.class, () -> vendor.probe().get(0).attempt().run()).getMessage();
      assertTrue(message.contains("the connection is refused"), message);
    }
  }
}
