package dev.dusky.warehouses;

import dev.dusky.core.dispatch.StoreFiles;
import dev.dusky.core.dispatch.StoreOrder;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A server of the S3 protocol that tables are in, here and on the engine's machines. */
public final class TableStore extends StoreFiles {

  /** Where the tables are; behind a blank, orders have the server's address. */
  static final String PLACE = "s3://dairy/lake/tables";

  /** The store of an order, as the engine opens it. */
  public TableStore(byte[] order) throws IOException {
    super(at(StoreOrder.read(order).configuration()).depot());
  }

  /** Starts a server for as long as this process lives; its address. */
  static String start(Path folder) throws IOException {
    Files.createDirectories(folder.resolve("dairy"));
    return StandIn.start(folder, "key", "secret", 0).endpoint();
  }

  /** The store of a server. */
  static LakeSettings.Store at(String endpoint) {
    return new LakeSettings.Store(
        "s3://dairy/lake",
        Depots.open(
            DepotAddress.of("lake", "s3://dairy/lake")
                .at(endpoint)
                .signed(new Secret(() -> "key"), new Secret(() -> "secret")),
            Path.of("")),
        new StoreOrder(TableStore.class.getName(), endpoint, "", "lake"));
  }
}
