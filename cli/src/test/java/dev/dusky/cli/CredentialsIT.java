package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpServer;
import dev.dusky.standin.BlobStandIn;
import dev.dusky.standin.LoopbackCertificate;
import dev.dusky.standin.StandIn;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The built program with credentials that only its environment has. */
class CredentialsIT {

  @TempDir Path folder;

  @Test
  void theManagedIdentityOfTheMachineIsUsed() throws Exception {
    HttpServer identity =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 5);
    identity.createContext(
        "/",
        exchange -> {
          boolean known = "hush".equals(exchange.getRequestHeaders().getFirst("X-IDENTITY-HEADER"));
          byte[] answer =
              """
              {"access_token":"the-token","token_type":"Bearer","expires_in":"86000",
               "expires_on":"%d","resource":"https://storage.azure.com/"}"""
                  .formatted(System.currentTimeMillis() / 1000 + 86_000)
                  .getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(known ? 200 : 401, answer.length);
          exchange.getResponseBody().write(answer);
          exchange.close();
        });
    identity.start();
    LoopbackCertificate certificate = new LoopbackCertificate(folder);
    certificate.pem();
    Files.createDirectories(folder.resolve("blobs/intake"));
    try (BlobStandIn store =
        BlobStandIn.start(folder.resolve("blobs"), "wrenfold", "a2V5", certificate.server())) {
      store.accept("the-token");
      Program dusky =
          new Program(folder)
              .file(
                  "dusky.yaml",
                  """
                  warehouse: jdbc:h2:file:./warehouse
                  depots:
                    yard:
                      at: "azure://wrenfold/intake"
                      endpoint: "%s"
                      credentials: instance
                      ca-file: authority.pem
                  """
                      .formatted(store.endpoint()))
              .env("IDENTITY_ENDPOINT", "http://127.0.0.1:" + identity.getAddress().getPort())
              .env("IDENTITY_HEADER", "hush");
      Program.Run passed = dusky.run("probe", "yard");
      assertTrue(passed.expect(0).out().contains("everything passed"), passed.all());
      Program.Run denied = dusky.env("IDENTITY_HEADER", "loud").run("probe", "yard");
      assertTrue(denied.expect(4).out().contains("gave no token"), denied.all());
    } finally {
      identity.stop(0);
    }
  }

  @Test
  void theEnvironmentsKeysAreUsedAndNothingElse() throws Exception {
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "other", "other", 0)) {
      store.accept("TEMPORARY", "temporary-secret", "temporary-token");
      Program dusky =
          new Program(folder)
              .file(
                  "dusky.yaml",
                  """
                  warehouse: jdbc:h2:file:./warehouse
                  depots:
                    yard: { at: "s3://intake", endpoint: "%s", credentials: environment }
                  """
                      .formatted(store.endpoint()));
      Program.Run without = dusky.run("probe", "yard");
      assertTrue(without.expect(4).out().contains("credentials failed"), without.all());
      Program.Run with =
          dusky
              .env("AWS_ACCESS_KEY_ID", "TEMPORARY")
              .env("AWS_SECRET_ACCESS_KEY", "temporary-secret")
              .env("AWS_SESSION_TOKEN", "temporary-token")
              .run("probe", "yard");
      assertTrue(with.expect(0).out().contains("the environment variables"), with.all());
    }
  }
}
