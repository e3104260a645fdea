package dev.dusky.lake;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.lake.file.DepotFiles;
import dev.dusky.standin.StandIn;
import java.nio.file.Files;
import org.apache.iceberg.io.FileIO;
import org.junit.jupiter.api.AfterEach;

/** The tables are in a server of the S3 protocol that knows no conditional writes. */
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
    store.faults().unconditional();
    depot =
        Depots.open(
            DepotAddress.of("lake", "s3://dairy/lake")
                .at(store.endpoint())
                .signed(new Secret(() -> "key"), new Secret(() -> "secret")),
            folder);
    return new DepotFiles(depot, "s3://dairy/lake");
  }

  @AfterEach
  void stop() {
    depot.close();
    store.close();
  }
}
