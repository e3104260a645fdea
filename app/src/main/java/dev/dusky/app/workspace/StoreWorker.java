package dev.dusky.app.workspace;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.dispatch.StoreFiles;
import dev.dusky.core.dispatch.StoreOrder;
import java.io.IOException;

/** The depot that holds the tables, on a machine of the engine. */
public final class StoreWorker extends StoreFiles {

  /** The store that a {@link StoreOrder} names, as bytes. */
  public StoreWorker(byte[] order) throws IOException {
    super(depot(StoreOrder.read(order)));
  }

  private static Depot depot(StoreOrder order) {
    return EngineWorkspace.of(order.file(), order.configuration()).depot(order.depot());
  }
}
