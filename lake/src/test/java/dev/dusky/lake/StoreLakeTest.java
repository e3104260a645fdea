package dev.dusky.lake;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.DepotAddress;
import dev.dusky.depots.Depots;
import dev.dusky.lake.file.DepotFiles;
import dev.dusky.standin.StandIn;
import java.nio.file.Files;
import java.util.Optional;
import org.apache.iceberg.io.FileIO;
import org.junit.jupiter.api.AfterEach;

/** The tables are in a server of the S3 protocol. */
class StoreLakeTest extends H2LakeTest {

  private StandIn store;
  private Depot depot;

  @Override
  int stride() {
    return 3;
  }

  @Override
  String place() {
    return "s3://dairy/lake/tables";
  }

  @Override
  FileIO files() throws Exception {
    Files.createDirectories(folder.resolve("buckets/dairy"));
    store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
    depot =
        Depots.open(
            new DepotAddress(
                "lake",
                "s3://dairy/lake",
                Optional.of(store.endpoint()),
                "us-east-1",
                Optional.of(new Secret(() -> "key")),
                Optional.of(new Secret(() -> "secret")),
                true),
            folder);
    return new DepotFiles(depot, "s3://dairy/lake");
  }

  @AfterEach
  void stop() {
    depot.close();
    store.close();
  }
}
