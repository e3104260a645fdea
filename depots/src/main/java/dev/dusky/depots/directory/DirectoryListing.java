package dev.dusky.depots.directory;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.folders.TreeListing;
import java.io.File;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;

/** Walks a directory. Hidden files and unfinished ones are left out. */
final class DirectoryListing extends TreeListing<Path> {

  private final Path root;
  private final BiFunction<String, IOException, Failure> failure;

  DirectoryListing(
      Path root, String prefix, String after, BiFunction<String, IOException, Failure> failure) {
    super(prefix, after);
    this.root = root;
    this.failure = failure;
    begin(root);
  }

  @Override
  protected List<Entry<Path>> read(Path directory, String folder) {
    List<Entry<Path>> entries = new ArrayList<>();
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(directory)) {
      for (Path file : stream) {
        String name = file.getFileName().toString();
        if (!name.startsWith(".") && !name.endsWith(DirectoryDepot.UNFINISHED)) {
          String path = root.relativize(file).toString().replace(File.separatorChar, '/');
          entries.add(new Entry<>(path, file, Files.isDirectory(file)));
        }
      }
    } catch (IOException e) {
      throw failure.apply("Listing " + directory, e);
    }
    return entries;
  }

  /** A file whose path cannot be read, found by listing its directory. */
  static Optional<StagedFile> unreadable(
      Path root, String path, BiFunction<String, IOException, Failure> failure) {
    DirectoryListing files = new DirectoryListing(root, path, "", failure);
    StagedFile file = files.hasNext() ? files.next() : null;
    return file != null && file.path().equals(path) ? Optional.of(file) : Optional.empty();
  }

  @Override
  protected StagedFile staged(Entry<Path> entry) {
    try {
      return Files.isRegularFile(entry.place())
          ? DirectoryDepot.staged(
              entry.path(), Files.readAttributes(entry.place(), BasicFileAttributes.class))
          : null;
    } catch (IOException e) {
      throw failure.apply("Looking at " + entry.path(), e);
    }
  }
}
