package dev.dusky.core.load;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.LongConsumer;

/** A depot some of whose small files are fetched ahead, several at once. */
final class FetchedFiles implements Depot {

  private static final int AT_ONCE = 8;

  private final Depot depot;
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
    this.depot = depot;
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

  @Override
  public String name() {
    return depot.name();
  }

  @Override
  public String place() {
    return depot.place();
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    return depot.list(prefix, after);
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return depot.look(path);
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    return depot.bytes(file, position, length);
  }

  @Override
  public boolean seekable(StagedFile file) {
    return depot.seekable(file);
  }

  @Override
  public StagedFile put(String path, Path local, LongConsumer sent) {
    return depot.put(path, local, sent);
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    return depot.same(staged, local);
  }

  @Override
  public void remove(String path) {
    depot.remove(path);
  }

  @Override
  public void move(StagedFile file, String path) {
    depot.move(file, path);
  }

  @Override
  public List<ProbeStep> probe() {
    return depot.probe();
  }

  /** Stops fetching; the depot underneath stays open. */
  @Override
  public void close() {
    threads.shutdownNow();
  }
}
