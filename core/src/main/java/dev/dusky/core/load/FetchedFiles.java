package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.DepotAround;
import dev.dusky.core.depot.StagedFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** A depot some of whose small files are fetched ahead, several at once. */
final class FetchedFiles extends DepotAround {

  private static final int AT_ONCE = 8;

  private final Map<String, Future<byte[]>> fetched = new LinkedHashMap<>();
  private final ExecutorService threads =
      Executors.newFixedThreadPool(
          AT_ONCE,
          work -> {
            Thread thread = new Thread(work, "dusky-fetch");
            thread.setDaemon(true);
            return thread;
          });

  /** Starts fetching these files, in turn. */
  FetchedFiles(Depot depot, List<StagedFile> files) {
    super(depot);
    for (StagedFile file : files) {
      fetched.put(
          file.path(),
          threads.submit(
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
      return new ByteArrayInputStream(bytes.get());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted while fetching " + file.path(), e);
    } catch (ExecutionException e) {
      if (e.getCause() instanceof IOException io) {
        throw io;
      }
      if (e.getCause() instanceof RuntimeException unchecked) {
        throw unchecked;
      }
      throw new IllegalStateException(e.getCause());
    }
  }

  /** Stops fetching; the depot underneath stays open. */
  @Override
  public void close() {
    threads.shutdownNow();
  }
}
