package dev.dusky.core.depot;

import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedOutputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Writes to a local temporary file, which is stored, whole, when the stream is closed. */
public final class DepotOutput extends FilterOutputStream {

  private final Depot depot;
  private final String path;
  private final Path local;
  private boolean closed;

  /** Writes what will be the depot's file at that path. */
  public DepotOutput(Depot depot, String path) throws IOException {
    this(depot, path, TemporaryFolder.newFile(".part"));
  }

  private DepotOutput(Depot depot, String path, Path local) throws IOException {
    super(new BufferedOutputStream(Files.newOutputStream(local)));
    this.depot = depot;
    this.path = path;
    this.local = local;
  }

  @Override
  public void write(byte[] from, int start, int length) throws IOException {
    out.write(from, start, length);
  }

  @Override
  public void close() throws IOException {
    if (closed) {
      return;
    }
    closed = true;
    try {
      super.close();
      depot.put(path, local);
    } finally {
      Files.deleteIfExists(local);
    }
  }
}
