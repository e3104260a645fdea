package dev.dusky.core.depot;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/**
 * A named place in object storage, or a directory. All methods may be called from several threads;
 * all throw a {@link Failure} of kind DEPOT that says which right or place is at fault.
 */
public interface Depot extends AutoCloseable {

  /** The name under which the configuration declares it. */
  String name();

  /** Where it is, for people. */
  String place();

  /**
   * Lists the files whose path starts with the prefix, in the order of their paths' bytes. Pages
   * are fetched as the iterator goes; nothing but the current page is held.
   */
  default Iterator<StagedFile> list(String prefix) {
    return list(prefix, "");
  }

  /**
   * Lists in the same way only files whose path comes behind {@code after} in the order of bytes,
   * without going through those before.
   */
  Iterator<StagedFile> list(String prefix, String after);

  /** Looks at one file. */
  Optional<StagedFile> look(String path);

  /**
   * Opens a file's stored bytes. A broken connection is resumed in the middle; if the file has
   * changed since it was listed, reading fails rather than mixing the two.
   *
   * @throws IOException never for reasons of the depot; those are {@link Failure}s, or {@link
   *     dev.dusky.core.bytes.StorageException}s once the stream is open
   */
  InputStream open(StagedFile file) throws IOException;

  /**
   * Reads some of a file's stored bytes, fewer than asked for only at its end. If the file has
   * changed since it was listed, this fails.
   */
  byte[] bytes(StagedFile file, long position, int length) throws IOException;

  /** Whether {@link #bytes} can read this file. */
  default boolean seekable(StagedFile file) {
    return true;
  }

  /**
   * Stores a local file, verified by checksum, whole or not at all. Of a large file that a killed
   * process had begun to store only the rest is sent, where the store allows.
   *
   * @param uplink what it shares with other files that are stored at the same time
   */
  StagedFile put(String path, Path local, Uplink uplink);

  /** Stores a small local file by itself. */
  default StagedFile put(String path, Path local) {
    try (Uplink alone = Uplink.single()) {
      return put(path, local, alone);
    }
  }

  /** Uploads that were begun and neither finished nor dropped, by any process, oldest first. */
  default List<StaleUpload> unfinished() {
    return List.of();
  }

  /** Drops one of {@link #unfinished} for good. */
  default void drop(StaleUpload upload) {
    throw new IllegalStateException("there was no " + upload);
  }

  /** Whether the stored file's content is that of the local one. */
  boolean same(StagedFile staged, Path local);

  /** Removes a file. */
  void remove(String path);

  /** Removes a file if it still is this one; another one that came in its place stays. */
  void remove(StagedFile file);

  /**
   * Moves a file to another path of the depot where nothing is yet; if it has changed since it was
   * listed, this fails. One that comes in its place meanwhile stays there.
   *
   * @return false, and nothing has been done, if another file is at that path
   */
  boolean move(StagedFile file, String path);

  /** What must work before any right can be tried, in the order in which one needs the other. */
  List<ProbeStep> probe();

  /** What storing large files needs besides the right to write. */
  default List<ProbeStep> probeStoring() {
    return List.of();
  }

  @Override
  void close();
}
