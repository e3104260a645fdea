package dev.dusky.core.load;

import dev.dusky.core.concurrent.Fetchers;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ForwardingDepot;
import dev.dusky.core.depot.StagedFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Future;

/** A depot some of whose small files are fetched ahead, several at once. */
final class PrefetchedFiles extends ForwardingDepot {

  private final Map<String, Future<byte[]>> fetched = new LinkedHashMap<>();
  private final Fetchers fetchers = new Fetchers();

  /** Starts fetching these files, in turn. */
  PrefetchedFiles(Depot depot, List<StagedFile> files) {
    super(depot);
    for (StagedFile file : files) {
      fetched.put(
          file.path(),
          fetchers.fetch(
              () -> {
                try (InputStream in = depot.open(file)) {
                  return in.readAllBytes();
                }
              }));
    }
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    Future<byte[]> bytes = fetched.remove(file.path());
    if (bytes == null) {
      return depot.open(file);
    }
    try {
      return new ByteArrayInputStream(Fetchers.take(bytes));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted while fetching " + file.path(), e);
    }
  }

  /** Stops fetching; the depot underneath stays open. */
  @Override
  public void close() {
    fetchers.close();
  }
}
