package dev.dusky.depots.directory;

import dev.dusky.core.bytes.BulkStream;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.transfer.LocalStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Arrays;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/** A directory as a depot. Hidden files and unfinished ones are not seen. */
public final class DirectoryDepot implements Depot {

  static final String UNFINISHED = ".dusky-part";

  private final String name;
  private final Path root;

  public DirectoryDepot(String name, Path root) {
    this.name = name;
    this.root = root.toAbsolutePath();
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public String place() {
    return root.toString();
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    if (!Files.isDirectory(root)) {
      throw noDirectory();
    }
    return new DirectoryListing(root, prefix, after, this::failure);
  }

  private Failure noDirectory() {
    return Failure.depot("Depot " + name + " is not there")
        .because(root + " is not a directory")
        .hint("Make the directory, or correct at: in the configuration");
  }

  private Failure failure(String doing, IOException e) {
    String why =
        e instanceof AccessDeniedException
            ? "the right is missing"
            : e instanceof NoSuchFileException
                ? "it does not exist"
                : String.valueOf(e.getMessage());
    return Failure.depot(doing + " in depot " + name + " failed")
        .because(why)
        .hint("Check the directory " + root + " and its rights")
        .from(e);
  }

  static StagedFile staged(String path, BasicFileAttributes attributes) {
    return new StagedFile(
        path,
        attributes.size(),
        attributes.lastModifiedTime().toInstant().toString(),
        attributes.lastModifiedTime().toInstant());
  }

  private Path resolve(String path) {
    Path resolved = root.resolve(path).normalize();
    if (!resolved.startsWith(root) || resolved.equals(root)) {
      throw Failure.depot("'" + path + "' is not a path inside depot " + name);
    }
    return resolved;
  }

  @Override
  public Optional<StagedFile> look(String path) {
    if (UnreadableName.is(path)) {
      return DirectoryListing.unreadable(root, path, this::failure);
    }
    Path file = resolve(path);
    try {
      return Files.isRegularFile(file)
          ? Optional.of(staged(path, Files.readAttributes(file, BasicFileAttributes.class)))
          : Optional.empty();
    } catch (IOException e) {
      throw failure("Looking at " + path, e);
    }
  }

  @Override
  public InputStream open(StagedFile file) {
    if (UnreadableName.is(file.path())) {
      throw UnreadableName.failure(file.path());
    }
    try {
      InputStream in = Files.newInputStream(resolve(file.path()));
      Optional<StagedFile> now = look(file.path());
      if (now.isEmpty() || !now.get().version().equals(file.version())) {
        in.close();
        throw Failure.depot(file.path() + " changed since it was listed in depot " + name)
            .hint("Nothing of it was loaded. Load again");
      }
      return new UnchangedStream(in, file);
    } catch (IOException e) {
      throw failure("Reading " + file.path(), e);
    }
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    try (InputStream in = open(file)) {
      in.skipNBytes(position);
      byte[] bytes = new byte[length];
      int read = in.readNBytes(bytes, 0, length);
      return read == length ? bytes : Arrays.copyOf(bytes, read);
    }
  }

  /** Gives storage errors their own type and notices at the end if the file changed meanwhile. */
  private final class UnchangedStream extends BulkStream {
    private final InputStream in;
    private final StagedFile file;

    UnchangedStream(InputStream in, StagedFile file) {
      this.in = in;
      this.file = file;
    }

    @Override
    public void close() throws IOException {
      in.close();
    }

    @Override
    public long skip(long count) throws IOException {
      return in.skip(count);
    }

    @Override
    public int read(byte[] buffer, int offset, int length) throws IOException {
      int read;
      try {
        read = in.read(buffer, offset, length);
      } catch (IOException e) {
        throw new StorageException("reading " + file.path() + ": " + e.getMessage(), e);
      }
      if (read < 0
          && !look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
        throw Failure.depot(file.path() + " changed in depot " + name + " while it was read")
            .hint("Nothing of it was loaded. Load again");
      }
      return read;
    }
  }

  @Override
  public StagedFile put(String path, Path local, Uplink uplink) {
    Path target = resolve(path);
    Path part = target.resolveSibling(target.getFileName() + UNFINISHED);
    try {
      Files.createDirectories(target.getParent());
      try (InputStream in = uplink.paced(new LocalStream(local));
          OutputStream out = Files.newOutputStream(part)) {
        byte[] buffer = new byte[256 << 10];
        for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
          out.write(buffer, 0, n);
          uplink.sent(n);
        }
      }
      if (Files.mismatch(part, local) >= 0) {
        throw Failure.depot("Staging " + local + " in depot " + name + " failed")
            .because("what was written differs from what was read")
            .hint("The file may have changed meanwhile; stage it again");
      }
      Files.move(part, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      return look(path).orElseThrow();
    } catch (IOException e) {
      throw failure("Staging " + path, e);
    }
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    try {
      return LocalStream.size(local) == staged.size()
          && Files.mismatch(resolve(staged.path()), local) < 0;
    } catch (IOException e) {
      throw failure("Comparing " + staged.path(), e);
    }
  }

  /** The right is needed for a file that is not there too, so that a probe can try it. */
  @Override
  public void remove(String path) {
    Path file = resolve(path);
    Path folder = file.getParent();
    while (!Files.exists(folder) && !folder.equals(root)) {
      folder = folder.getParent();
    }
    try {
      if (Files.isDirectory(folder) && !Files.isWritable(folder)) {
        throw new AccessDeniedException(folder.toString());
      }
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw failure("Removing " + path, e);
    }
  }

  @Override
  public boolean move(StagedFile file, String path) {
    Path target = resolve(path);
    try {
      Files.createDirectories(target.getParent());
      if (!isStill(file, resolve(file.path()))) {
        throw changed(file);
      }
      if (!link(resolve(file.path()), target)) {
        return false;
      }
      if (!isStill(file, target)) {
        link(target, resolve(file.path())); // does nothing where a file is
        Files.deleteIfExists(target);
        throw changed(file);
      }
    } catch (IOException e) {
      throw failure("Moving " + file.path(), e);
    }
    remove(file);
    return true;
  }

  private Failure changed(StagedFile file) {
    return Failure.depot(file.path() + " changed in depot " + name + " before it was moved")
        .hint("It was left where it is");
  }

  private static boolean isStill(StagedFile file, Path place) throws IOException {
    return Files.isRegularFile(place)
        && staged(file.path(), Files.readAttributes(place, BasicFileAttributes.class))
            .version()
            .equals(file.version());
  }

  /**
   * Gives a file a second name that nothing has yet, in one step; true too if it has that name
   * already. Where there are no links, the file itself goes there.
   */
  private static boolean link(Path source, Path target) throws IOException {
    try {
      Files.createLink(target, source);
      return true;
    } catch (FileAlreadyExistsException e) {
      return Files.isSameFile(source, target);
    } catch (UnsupportedOperationException | FileSystemException e) {
      if (e instanceof AccessDeniedException || e instanceof NoSuchFileException) {
        throw e;
      }
    }
    try {
      Files.createFile(target); // holds the name until the file takes it
    } catch (FileAlreadyExistsException e) {
      return false;
    }
    Files.move(source, target, StandardCopyOption.ATOMIC_MOVE);
    return true;
  }

  /** Takes the file aside in one step, looks again, and puts back one that is not it. */
  @Override
  public void remove(StagedFile file) {
    Path source = resolve(file.path());
    Path aside = source.resolveSibling("." + source.getFileName() + UNFINISHED);
    try {
      if (!isStill(file, source)) {
        return;
      }
      Files.move(source, aside, StandardCopyOption.ATOMIC_MOVE);
      if (!isStill(file, aside)) {
        // If a third one came meanwhile, it keeps the name, as it would have by overwriting.
        link(aside, source);
      }
      Files.deleteIfExists(aside);
    } catch (IOException e) {
      throw failure("Removing " + file.path(), e);
    }
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of(new ProbeStep("resolve", this::probeResolve));
  }

  private ProbeStep.Finding probeResolve() {
    if (!Files.isDirectory(root, LinkOption.NOFOLLOW_LINKS) && !Files.isDirectory(root)) {
      throw noDirectory();
    }
    return ProbeStep.Finding.passed(root + " is a directory");
  }

  @Override
  public void close() {
    // Nothing is held open.
  }
}
