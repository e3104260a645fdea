package dev.dusky.lake.file;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.apache.iceberg.exceptions.AlreadyExistsException;
import org.apache.iceberg.exceptions.NotFoundException;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.io.InputFile;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.io.PositionOutputStream;
import org.apache.iceberg.io.SeekableInputStream;

/**
 * Files of tables below a folder, named by {@code file:} locations. A file is on the disk when its
 * stream is closed. Locations outside the folder are refused: they come from metadata that others
 * may write.
 */
public final class FolderFiles implements FileIO, StoredFiles {

  private static final long serialVersionUID = 1;
  private static final String SCHEME = "file:";
  private static final int BUFFER = 1 << 16;

  private final String root;

  /** The files below that folder. */
  public FolderFiles(Path folder) {
    this.root = folder.toAbsolutePath().normalize().toString();
  }

  private Path path(String location) {
    String plain = location.startsWith(SCHEME) ? location.substring(SCHEME.length()) : location;
    Path path = Path.of(plain.replaceFirst("^/{2,}", "/")).toAbsolutePath().normalize();
    if (!path.startsWith(root)) {
      throw new SecurityException(location + " is not below " + root);
    }
    return path;
  }

  @Override
  public InputFile newInputFile(String location) {
    return new Input(location, path(location));
  }

  @Override
  public OutputFile newOutputFile(String location) {
    return new Output(location, path(location));
  }

  @Override
  public void each(String below, Consumer<Stored> file) {
    Path start = path(below);
    if (!Files.exists(start)) {
      return;
    }
    try (Stream<Path> all = Files.walk(start)) {
      for (Path found : (Iterable<Path>) all::iterator) {
        stored(found).ifPresent(file);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** A file; none if it is a folder, or gone meanwhile. */
  private static Optional<Stored> stored(Path file) throws IOException {
    try {
      BasicFileAttributes is =
          Files.readAttributes(file, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
      return is.isRegularFile()
          ? Optional.of(new Stored(SCHEME + file, is.size(), is.lastModifiedTime().toInstant()))
          : Optional.empty();
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
  }

  @Override
  public String plain(String location) {
    return SCHEME + path(location);
  }

  @Override
  public Instant now(String below) {
    try {
      Files.createDirectories(path(below));
      Path moment = Files.createTempFile(path(below), ".clock", "");
      try {
        return Files.getLastModifiedTime(moment).toInstant();
      } finally {
        Files.delete(moment);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Brings a file onto the disk that another process has written. */
  void force(String location) {
    try (FileChannel file = FileChannel.open(path(location), StandardOpenOption.WRITE)) {
      file.force(true);
    } catch (NoSuchFileException e) {
      throw new NotFoundException(e, "%s does not exist", location);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  public void deleteFile(String location) {
    try {
      Files.deleteIfExists(path(location));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private record Input(String location, Path path) implements InputFile {

    @Override
    public long getLength() {
      try {
        return Files.size(path);
      } catch (NoSuchFileException e) {
        throw new NotFoundException(e, "%s does not exist", location);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public SeekableInputStream newStream() {
      try {
        return new ChannelInput(Files.newByteChannel(path));
      } catch (NoSuchFileException e) {
        throw new NotFoundException(e, "%s does not exist", location);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public boolean exists() {
      return Files.exists(path);
    }
  }

  private record Output(String location, Path path) implements OutputFile {

    @Override
    public PositionOutputStream create() {
      return open(StandardOpenOption.CREATE_NEW);
    }

    @Override
    public PositionOutputStream createOrOverwrite() {
      return open(StandardOpenOption.CREATE, StandardOpenOption.TRUNCATE_EXISTING);
    }

    private PositionOutputStream open(StandardOpenOption... how) {
      try {
        Files.createDirectories(path.getParent());
        StandardOpenOption[] all = Arrays.copyOf(how, how.length + 1);
        all[how.length] = StandardOpenOption.WRITE;
        return new ChannelOutput(FileChannel.open(path, all));
      } catch (FileAlreadyExistsException e) {
        throw new AlreadyExistsException(e, "%s exists already", location);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public InputFile toInputFile() {
      return new Input(location, path);
    }
  }

  private static final class ChannelInput extends SeekableInputStream {
    private final SeekableByteChannel channel;
    private final ByteBuffer one = ByteBuffer.allocate(1);

    ChannelInput(SeekableByteChannel channel) {
      this.channel = channel;
    }

    @Override
    public long getPos() throws IOException {
      return channel.position();
    }

    @Override
    public void seek(long position) throws IOException {
      channel.position(position);
    }

    @Override
    public int read() throws IOException {
      one.clear();
      return channel.read(one) < 0 ? -1 : one.get(0) & 0xff;
    }

    @Override
    public int read(byte[] to, int from, int length) throws IOException {
      return channel.read(ByteBuffer.wrap(to, from, length));
    }

    @Override
    public void close() throws IOException {
      channel.close();
    }
  }

  /** A file that the ledger will name must survive a failure of the machine. */
  private static final class ChannelOutput extends CountedOutput {
    private final FileChannel channel;

    ChannelOutput(FileChannel channel) {
      super(new BufferedOutputStream(Channels.newOutputStream(channel), BUFFER));
      this.channel = channel;
    }

    @Override
    void store(OutputStream written) throws IOException {
      written.flush();
      channel.force(true);
      written.close();
    }
  }
}
