package dev.dusky.core.bytes;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/**
 * A folder for the temporary files of one process, held by a lock that dies with it. What killed
 * processes left is removed by the next one that needs a folder.
 */
final class ProcessFolder {

  private static final String PREFIX = "dusky-work-";
  private static final String LOCK = "lock";

  /** A younger folder may be of a process that has not locked it yet. */
  private static final Duration YOUNG = Duration.ofMinutes(1);

  private final Path folder;
  private final FileChannel channel;

  private ProcessFolder(Path folder, FileChannel channel) {
    this.folder = folder;
    this.channel = channel;
  }

  /** Makes a folder in {@code parent} and holds it; removes those that are not held any more. */
  static ProcessFolder in(Path parent) throws IOException {
    Path folder = Files.createTempDirectory(parent, PREFIX);
    FileChannel channel =
        FileChannel.open(folder.resolve(LOCK), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    channel.lock();
    sweep(parent, folder, Instant.now().minus(YOUNG));
    return new ProcessFolder(folder, channel);
  }

  Path path() {
    return folder;
  }

  /** Releases the folder and removes it with its content. */
  void remove() throws IOException {
    channel.close();
    remove(folder);
  }

  /** Keeps away from the process's own lock: to close a second channel to it would release it. */
  private static void sweep(Path parent, Path own, Instant young) {
    try (DirectoryStream<Path> folders = Files.newDirectoryStream(parent, PREFIX + "*")) {
      for (Path other : folders) {
        if (!other.equals(own) && isLeft(other, young)) {
          remove(other);
        }
      }
    } catch (IOException leftToOthers) {
      // Where the parent cannot be listed, or what is left not removed, this process continues.
    }
  }

  private static boolean isLeft(Path folder, Instant young) {
    Path lock = folder.resolve(LOCK);
    try (FileChannel channel = FileChannel.open(lock, StandardOpenOption.WRITE);
        FileLock held = channel.tryLock()) {
      return held != null && Files.getLastModifiedTime(lock).toInstant().isBefore(young);
    } catch (OverlappingFileLockException e) {
      return false; // this process holds it
    } catch (IOException e) {
      return false; // of another user, or being removed now
    }
  }

  private static void remove(Path folder) throws IOException {
    List<Path> all;
    try (Stream<Path> paths = Files.walk(folder)) {
      all = paths.sorted(Comparator.reverseOrder()).toList();
    } catch (NoSuchFileException | java.io.UncheckedIOException e) {
      return; // another process was faster
    }
    for (Path path : all) {
      Files.deleteIfExists(path);
    }
  }
}
