package dev.dusky.core.concurrent;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;

/** The right of one process to use a folder; it ends with the process. */
public final class FolderLock implements AutoCloseable {

  private final FileChannel channel;
  private final FileLock lock;

  private FolderLock(FileChannel channel, FileLock lock) {
    this.channel = channel;
    this.lock = lock;
  }

  /** Takes a folder, which is made if need be; empty if another process or user has it. */
  public static Optional<FolderLock> take(Path folder) throws IOException {
    Files.createDirectories(folder);
    FileChannel channel =
        FileChannel.open(
            folder.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    try {
      FileLock lock = channel.tryLock();
      if (lock != null) {
        return Optional.of(new FolderLock(channel, lock));
      }
    } catch (OverlappingFileLockException e) {
      // Another user in this process has it.
    }
    channel.close();
    return Optional.empty();
  }

  @Override
  public void close() throws IOException {
    lock.release();
    channel.close();
  }
}
