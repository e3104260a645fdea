package dev.dusky.core.stream;

import dev.dusky.core.concurrent.FolderLock;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * The folder in which a stream is kept until the depot has it. One process holds it. In it are the
 * file that is written to, named {@code NUMBER.open}; files that are complete, {@code
 * NUMBER.ready}, each with its path in the depot beside it in {@code NUMBER.path}; and {@code
 * next}, the number that comes next. A path is fixed before its file is complete, so a file that
 * was sent just before a kill is recognised in the depot and not sent under another name.
 */
final class StreamSpool implements AutoCloseable {

  /** A complete file that the depot does not have yet, or may not have. */
  record Ready(long number, Path file, String path) {}

  private static final String OPEN = ".open";
  private static final String READY = ".ready";
  private static final String PATH = ".path";

  private final Path folder;
  private final StreamName name;
  private final FolderLock lock;
  private long next;

  private StreamSpool(Path folder, StreamName name, FolderLock lock) {
    this.folder = folder;
    this.name = name;
    this.lock = lock;
  }

  /** Takes the folder, or fails if another process has it. */
  static StreamSpool open(Path folder, StreamName name) throws IOException {
    FolderLock lock =
        FolderLock.take(folder)
            .orElseThrow(
                () ->
                    Failure.usage("The spool " + folder + " is in use")
                        .because("another process collects a stream there")
                        .hint("Stop it, or give this stream a folder with --spool"));
    StreamSpool spool = new StreamSpool(folder, name, lock);
    spool.next = spool.readNext();
    return spool;
  }

  private long readNext() throws IOException {
    Path file = folder.resolve("next");
    long most = 0;
    for (Path path : files()) {
      String number = path.getFileName().toString().replaceFirst("\\..*", "");
      if (number.matches("\\d{1,18}")) {
        most = Math.max(most, Long.parseLong(number));
      }
    }
    long kept = Files.exists(file) ? Long.parseLong(Files.readString(file).strip()) : 1;
    return Math.max(kept, most + 1);
  }

  private List<Path> files() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.sorted().toList();
    }
  }

  /** The failure when a spool cannot be written or read. */
  static Failure failure(Path folder, IOException e) {
    return Failure.of(Failure.Kind.UNEXPECTED, "Keeping the stream in " + folder + " failed")
        .because(String.valueOf(e.getMessage()))
        .hint(
            "Free space there, or name another directory with --spool. Records that were kept"
                + " are staged when the stream runs again")
        .from(e);
  }

  /** Files that a killed process left to be sent, in their order. */
  List<Ready> ready() throws IOException {
    List<Ready> result = new ArrayList<>();
    for (Path file : files()) {
      if (file.getFileName().toString().endsWith(READY)) {
        long number = Long.parseLong(file.getFileName().toString().replace(READY, ""));
        String path = Files.readString(named(number, PATH));
        result.add(new Ready(number, file, path));
      }
    }
    return result;
  }

  /** The file that a killed process was writing to, if any; several only if that was a crash. */
  List<SpoolFile> left() throws IOException {
    List<SpoolFile> result = new ArrayList<>();
    for (Path file : files()) {
      if (file.getFileName().toString().endsWith(OPEN)) {
        result.add(SpoolFile.left(file));
      }
    }
    return result;
  }

  private Path named(long number, String ending) {
    return folder.resolve("%012d%s".formatted(number, ending));
  }

  /** A new file to write to. Its number is given to no other, even after a crash. */
  SpoolFile create() throws IOException {
    long number = next++;
    replace(folder.resolve("next"), Long.toString(next));
    return SpoolFile.create(named(number, OPEN));
  }

  /** Makes a file complete: from now on it is sent, by this process or a later one. */
  Ready complete(SpoolFile file) throws IOException {
    long number = Long.parseLong(file.path().getFileName().toString().replace(OPEN, ""));
    String path = name.path(Instant.now(), number);
    file.force();
    file.close();
    replace(named(number, PATH), path);
    Path ready = named(number, READY);
    Files.move(file.path(), ready, StandardCopyOption.ATOMIC_MOVE);
    return new Ready(number, ready, path);
  }

  /** Removes a file without records. */
  void forget(SpoolFile file) throws IOException {
    file.close();
    Files.delete(file.path());
  }

  /** Forgets a file that the depot has. */
  void sent(Ready file) throws IOException {
    Files.deleteIfExists(file.file());
    Files.deleteIfExists(named(file.number(), PATH));
  }

  /** Keeps the beginning of a record whose rest never came. */
  Path keepCut(SpoolFile file) throws IOException {
    Path cut = folder.resolve(file.path().getFileName().toString().replace(OPEN, ".cut"));
    try (SpoolFile to = SpoolFile.create(cut)) {
      file.moveRest(to);
    }
    return cut;
  }

  private void replace(Path file, String text) throws IOException {
    Path fresh = folder.resolve(file.getFileName() + ".new");
    try (FileChannel out =
        FileChannel.open(
            fresh,
            StandardOpenOption.CREATE,
            StandardOpenOption.TRUNCATE_EXISTING,
            StandardOpenOption.WRITE)) {
      out.write(StandardCharsets.UTF_8.encode(text));
      out.force(false);
    }
    Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
  }

  @Override
  public void close() throws IOException {
    lock.close();
  }
}
