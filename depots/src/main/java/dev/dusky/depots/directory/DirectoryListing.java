package dev.dusky.depots;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;

/**
 * Walks a directory in the order of full paths, holding one directory's names at each level. A
 * directory sorts as if its name ended with a slash, so that the order is that of object keys.
 */
final class DirectoryListing extends LookAhead<StagedFile> {

  private record Entry(String path, Path file, boolean directory) {
    byte[] sortKey() {
      return (directory ? path + "/" : path).getBytes(StandardCharsets.UTF_8);
    }
  }

  private final Path root;
  private final String prefix;
  private final byte[] after;
  private final BiFunction<String, IOException, Failure> failure;
  private final Deque<Iterator<Entry>> levels = new ArrayDeque<>();

  DirectoryListing(
      Path root, String prefix, String after, BiFunction<String, IOException, Failure> failure) {
    this.root = root;
    this.prefix = prefix;
    this.after = after.getBytes(StandardCharsets.UTF_8);
    this.failure = failure;
    levels.push(entries(root));
  }

  private Iterator<Entry> entries(Path directory) {
    List<Entry> entries = new ArrayList<>();
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(directory)) {
      for (Path file : stream) {
        String path = root.relativize(file).toString().replace('\\', '/');
        String name = file.getFileName().toString();
        boolean isDirectory = Files.isDirectory(file);
        boolean below = isDirectory && (prefix.startsWith(path + "/") || path.startsWith(prefix));
        if (!name.startsWith(".")
            && !name.endsWith(DirectoryDepot.UNFINISHED)
            && (below || !isDirectory && path.startsWith(prefix))
            && isBehind(isDirectory ? path + "/\uffff" : path)) {
          entries.add(new Entry(path, file, isDirectory));
        }
      }
    } catch (IOException e) {
      throw failure.apply("Listing " + directory, e);
    }
    entries.sort(Comparator.comparing(Entry::sortKey, Arrays::compareUnsigned));
    return entries.iterator();
  }

  /** A file whose path cannot be read, found by listing its directory. */
  static Optional<StagedFile> unreadable(
      Path root, String path, BiFunction<String, IOException, Failure> failure) {
    DirectoryListing files = new DirectoryListing(root, path, "", failure);
    StagedFile file = files.find();
    return file != null && file.path().equals(path) ? Optional.of(file) : Optional.empty();
  }

  private boolean isBehind(String path) {
    return Arrays.compareUnsigned(path.getBytes(StandardCharsets.UTF_8), after) > 0;
  }

  @Override
  StagedFile find() {
    while (!levels.isEmpty()) {
      if (!levels.peek().hasNext()) {
        levels.pop();
        continue;
      }
      Entry entry = levels.peek().next();
      if (entry.directory()) {
        levels.push(entries(entry.file()));
      } else {
        StagedFile file = staged(entry);
        if (file != null) {
          return file;
        }
      }
    }
    return null;
  }

  /** The file, or null if it has gone since its directory was read. */
  private StagedFile staged(Entry entry) {
    try {
      return Files.isRegularFile(entry.file())
          ? DirectoryDepot.staged(
              entry.path(), Files.readAttributes(entry.file(), BasicFileAttributes.class))
          : null;
    } catch (IOException e) {
      throw failure.apply("Looking at " + entry.path(), e);
    }
  }
}
