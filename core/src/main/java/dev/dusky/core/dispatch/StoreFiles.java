package dev.dusky.core.dispatch;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.DepotChannel;
import dev.dusky.core.depot.DepotOutput;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.SeekableByteChannel;

/**
 * The store that tables are in, on a machine of the engine. The engine calls these methods by their
 * names, and knows none but Java's own types; paths are those of the depot.
 */
public abstract class StoreFiles {

  private final Depot depot;

  /** The files of a depot. */
  protected StoreFiles(Depot depot) {
    this.depot = depot;
  }

  /** Opens a file; null if it does not exist. */
  public final SeekableByteChannel read(String path) {
    return depot.look(path).map(file -> new DepotChannel(depot, file)).orElse(null);
  }

  /** Writes a file, which is in the store when the stream is closed. */
  public final OutputStream write(String path) throws IOException {
    return new DepotOutput(depot, path);
  }

  /** Removes a file. */
  public final void remove(String path) {
    depot.remove(path);
  }
}
