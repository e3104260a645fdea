package dev.dusky.depots.azure;

import com.azure.storage.blob.BlobServiceClient;
import com.azure.storage.blob.BlobServiceClientBuilder;
import com.azure.storage.common.StorageSharedKeyCredential;
import dev.dusky.core.depot.Depot;
import dev.dusky.depots.DepotContract;
import dev.dusky.depots.Depots;
import dev.dusky.depots.OddPaths;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/**
 * The same promises against a server of the blob protocol that others wrote: the program at {@code
 * -Dblob.server=PATH}, which takes the options of the npm package that is named in {@code .ci/run}.
 */
@EnabledIfSystemProperty(named = "blob.server", matches = ".+")
class AzureForeignServerTest extends DepotContract {

  private static final Pattern LISTENING = Pattern.compile("listens on (http://\\S+)");
  private static final AtomicInteger CONTAINERS = new AtomicInteger();
  @TempDir static Path served;
  private static Process server;
  private static String endpoint;
  private static BlobServiceClient service;
  private Depot depot;

  @BeforeAll
  static void start() throws IOException {
    ProcessBuilder command =
        new ProcessBuilder(
            System.getProperty("blob.server"),
            "--blobPort",
            "0",
            "--location",
            served.toString(),
            "--skipApiVersionCheck",
            "--disableTelemetry");
    command.environment().put("AZURITE_ACCOUNTS", "wrenfold:" + AzureStandInTest.KEY);
    server = command.redirectErrorStream(true).start();
    BufferedReader output = new BufferedReader(new InputStreamReader(server.getInputStream()));
    StringBuilder said = new StringBuilder();
    for (String line = output.readLine(); line != null; line = output.readLine()) {
      Matcher listening = LISTENING.matcher(line);
      if (listening.find()) {
        endpoint = listening.group(1);
        service =
            new BlobServiceClientBuilder()
                .endpoint(endpoint + "/wrenfold")
                .credential(new StorageSharedKeyCredential("wrenfold", AzureStandInTest.KEY))
                .buildClient();
        return;
      }
      said.append(line).append('\n');
    }
    throw new AssertionError("the server did not start: " + said);
  }

  @AfterAll
  static void stop() throws InterruptedException {
    server.destroy();
    server.waitFor();
  }

  @BeforeEach
  void open() {
    String container = "intake" + CONTAINERS.incrementAndGet();
    service.createBlobContainer(container);
    depot =
        Depots.open(
            DepotAddress.of("yard", "azure://wrenfold/" + container + "/daily")
                .at(endpoint)
                .with(new Credentials.AccountKey(AzureStandInTest.secret(AzureStandInTest.KEY))),
            Path.of("."));
  }

  @AfterEach
  void close() {
    depot.close();
  }

  /** It takes a backslash for a slash, and its listings lack names that XML cannot carry. */
  @Override
  protected List<String> oddPaths() {
    return OddPaths.with(path -> !path.contains("\u0007") && !path.contains("\\"));
  }

  @Override
  protected Depot depot() {
    return depot;
  }
}
