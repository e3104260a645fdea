package dev.dusky.testkit;

import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;

/** A depot in memory that counts what is read of it and can break. */
public final class MemoryDepot implements Depot {

  private final Map<String, byte[]> files = new ConcurrentSkipListMap<>();
  private final Map<String, AtomicInteger> opened = new ConcurrentHashMap<>();
  private final List<String> listings = new CopyOnWriteArrayList<>();
  private int breakAfter = -1;
  private int listable = Integer.MAX_VALUE;
  private boolean immovable;
  private Runnable onMove = () -> {};
  private Instant modified = Instant.parse("2026-03-02T05:00:00Z");
  private Runnable beforeOpening = () -> {};
  private Consumer<String> atEnd = path -> {};

  public MemoryDepot with(String path, String text) {
    return with(path, text.getBytes(StandardCharsets.UTF_8));
  }

  public MemoryDepot with(String path, byte[] bytes) {
    files.put(path, bytes);
    return this;
  }

  /** From now on reading fails after that many bytes, or never if negative. */
  public void breakAfter(int bytes) {
    breakAfter = bytes;
  }

  /** From now on files can be moved or cannot. */
  public void immovable(boolean now) {
    immovable = now;
  }

  /** An action before each move of a file. */
  public void onMove(Runnable event) {
    onMove = event;
  }

  /** When all files were last modified. */
  public MemoryDepot dated(Instant when) {
    modified = when;
    return this;
  }

  /** An action before each opening of a file. */
  public void beforeOpening(Runnable event) {
    beforeOpening = event;
  }

  /** An action after each file was read to its end, before the reader sees it. */
  public void atEnd(Consumer<String> event) {
    atEnd = event;
  }

  /** From now on listings fail after that many files. */
  public void breakListingBehind(int count) {
    listable = count;
  }

  /** Where each listing so far began. */
  public List<String> listings() {
    return listings;
  }

  public int opened(String path) {
    return opened.getOrDefault(path, new AtomicInteger()).get();
  }

  @Override
  public String name() {
    return "yard";
  }

  @Override
  public String place() {
    return "memory";
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    listings.add(after);
    int[] left = {listable};
    Iterator<StagedFile> all = snapshot(prefix, after);
    return new Iterator<>() {
      @Override
      public boolean hasNext() {
        return all.hasNext();
      }

      @Override
      public StagedFile next() {
        if (left[0]-- == 0) {
          throw Failure.depot("Listing broke off");
        }
        return all.next();
      }
    };
  }

  private Iterator<StagedFile> snapshot(String prefix, String after) {
    return List.copyOf(files.keySet()).stream()
        .filter(path -> path.startsWith(prefix) && path.compareTo(after) > 0)
        .map(path -> look(path).orElseThrow())
        .toList()
        .iterator();
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return Optional.ofNullable(files.get(path))
        .map(bytes -> new StagedFile(path, bytes.length, "m" + Arrays.hashCode(bytes), modified));
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) {
    byte[] all = files.get(file.path());
    return Arrays.copyOfRange(all, (int) position, (int) Math.min(all.length, position + length));
  }

  @Override
  public InputStream open(StagedFile file) {
    beforeOpening.run();
    if (!look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
      throw Failure.depot(file.path() + " changed since it was listed");
    }
    opened.computeIfAbsent(file.path(), p -> new AtomicInteger()).incrementAndGet();
    ByteArrayInputStream in = new ByteArrayInputStream(files.get(file.path()));
    int limit = breakAfter;
    return new InputStream() {
      private int given;
      private boolean over;

      @Override
      public int read() {
        throw new UnsupportedOperationException();
      }

      @Override
      public int read(byte[] b, int off, int len) throws IOException {
        if (limit >= 0 && given >= limit) {
          throw new StorageException("the line is dead", null);
        }
        int n = in.read(b, off, limit >= 0 ? Math.min(len, limit - given) : len);
        given += Math.max(n, 0);
        if (n < 0 && !over) {
          over = true;
          atEnd.accept(file.path());
        }
        return n;
      }
    };
  }

  @Override
  public StagedFile put(String path, Path local, Uplink uplink) {
    with(path, bytes(local));
    return look(path).orElseThrow();
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    return Arrays.equals(files.get(staged.path()), bytes(local));
  }

  private static byte[] bytes(Path local) {
    try {
      return Files.readAllBytes(local);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  public void remove(String path) {
    files.remove(path);
  }

  @Override
  public void remove(StagedFile file) {
    if (look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
      files.remove(file.path());
    }
  }

  @Override
  public boolean move(StagedFile file, String path) {
    if (immovable) {
      throw Failure.depot("Moving " + file.path() + " failed");
    }
    onMove.run();
    if (files.containsKey(path)) {
      return false;
    }
    files.put(path, files.remove(file.path()));
    return true;
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of();
  }

  @Override
  public void close() {}
}
