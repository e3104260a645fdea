package dev.dusky.lake.file;

import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Iterator;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import org.apache.iceberg.exceptions.NotFoundException;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.io.InputFile;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.io.PositionOutputStream;
import org.apache.iceberg.io.SeekableInputStream;

/**
 * Files of tables in the store of a depot, through the depot's own client: its credentials,
 * retries, checksums and uploads in parts. A file is written to a local temporary file first and is
 * in the store, whole, when its stream is closed. Files are never overwritten: their names are
 * random. Locations outside the depot are refused.
 */
public final class DepotFiles implements FileIO, StoredFiles {

  private static final long serialVersionUID = 1;

  /** Bytes that are read ahead at a time. */
  private static final int AHEAD = 1 << 18;

  private final transient Depot depot;
  private final String at;

  /**
   * The files of a depot.
   *
   * @param at the location of the depot's root, such as {@code s3://bucket/prefix}
   */
  public DepotFiles(Depot depot, String at) {
    this.depot = depot;
    this.at = at.endsWith("/") ? at : at + "/";
  }

  private String path(String location) {
    if (!location.startsWith(at) || location.contains("/../")) {
      throw new SecurityException(location + " is not below " + at);
    }
    return location.substring(at.length());
  }

  @Override
  public InputFile newInputFile(String location) {
    return new Input(depot, location, path(location));
  }

  @Override
  public OutputFile newOutputFile(String location) {
    return new Output(depot, location, path(location));
  }

  @Override
  public void each(String below, Consumer<Stored> file) {
    String prefix = path(below.endsWith("/") ? below : below + "/");
    for (Iterator<StagedFile> all = depot.list(prefix); all.hasNext(); ) {
      StagedFile found = all.next();
      file.accept(new Stored(at + found.path(), found.size(), found.modified()));
    }
  }

  @Override
  public String plain(String location) {
    return location;
  }

  @Override
  public Instant now(String below) {
    String location = below + "/.clock-" + UUID.randomUUID();
    try (OutputStream moment = newOutputFile(location).create()) {
      moment.write(0);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    try {
      return depot.look(path(location)).orElseThrow().modified();
    } finally {
      deleteFile(location);
    }
  }

  @Override
  public void deleteFile(String location) {
    depot.remove(path(location));
  }

  private static final class Input implements InputFile {
    private final Depot depot;
    private final String location;
    private final String path;
    private Optional<StagedFile> found = Optional.empty();

    Input(Depot depot, String location, String path) {
      this.depot = depot;
      this.location = location;
      this.path = path;
    }

    private StagedFile file() {
      if (found.isEmpty()) {
        found = depot.look(path);
      }
      return found.orElseThrow(() -> new NotFoundException("%s does not exist", location));
    }

    @Override
    public long getLength() {
      return file().size();
    }

    @Override
    public SeekableInputStream newStream() {
      return new RangedInput(depot, file());
    }

    @Override
    public String location() {
      return location;
    }

    @Override
    public boolean exists() {
      return depot.look(path).isPresent();
    }
  }

  private record Output(Depot depot, String location, String path) implements OutputFile {

    @Override
    public PositionOutputStream create() {
      try {
        return new StoredOutput(depot, path);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public PositionOutputStream createOrOverwrite() {
      return create();
    }

    @Override
    public InputFile toInputFile() {
      return new Input(depot, location, path);
    }
  }

  /** Reads ranges, some bytes ahead; large reads go past the buffer. */
  private static final class RangedInput extends SeekableInputStream {
    private final Depot depot;
    private final StagedFile file;
    private byte[] buffer = new byte[0];
    private long bufferAt;
    private long position;

    RangedInput(Depot depot, StagedFile file) {
      this.depot = depot;
      this.file = file;
    }

    @Override
    public long getPos() {
      return position;
    }

    @Override
    public void seek(long to) {
      position = to;
    }

    private int buffered() {
      long from = position - bufferAt;
      return from < 0 || from >= buffer.length ? 0 : (int) (buffer.length - from);
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int start, int length) throws IOException {
      if (position >= file.size()) {
        return -1;
      }
      if (buffered() == 0) {
        buffer = depot.bytes(file, position, Math.max(AHEAD, length));
        bufferAt = position;
      }
      int taken = Math.min(length, buffered());
      System.arraycopy(buffer, (int) (position - bufferAt), to, start, taken);
      position += taken;
      return taken;
    }
  }

  /** Writes to a local file, which is stored when the stream is closed. */
  private static final class StoredOutput extends CountedOutput {
    private final Depot depot;
    private final String path;
    private final Path local;

    StoredOutput(Depot depot, String path) throws IOException {
      this(depot, path, TemporaryFolder.newFile(".part"));
    }

    private StoredOutput(Depot depot, String path, Path local) throws IOException {
      super(new BufferedOutputStream(Files.newOutputStream(local)));
      this.depot = depot;
      this.path = path;
      this.local = local;
    }

    @Override
    void store(OutputStream written) throws IOException {
      try {
        written.close();
        depot.put(path, local);
      } finally {
        Files.deleteIfExists(local);
      }
    }
  }
}
