package dev.dusky.lake.file;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.DepotChannel;
import dev.dusky.core.depot.DepotOutput;
import dev.dusky.core.depot.StagedFile;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
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
      return new RangedInput(new DepotChannel(depot, file()));
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
        return new StoredOutput(new DepotOutput(depot, path));
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

  /** Reads a channel, wherever it is asked to. */
  private static final class RangedInput extends SeekableInputStream {
    private final SeekableByteChannel channel;

    RangedInput(SeekableByteChannel channel) {
      this.channel = channel;
    }

    @Override
    public long getPos() throws IOException {
      return channel.position();
    }

    @Override
    public void seek(long to) throws IOException {
      channel.position(to);
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int start, int length) throws IOException {
      return channel.read(ByteBuffer.wrap(to, start, length));
    }

    @Override
    public void close() throws IOException {
      channel.close();
    }
  }

  /** Its stream puts the file into the store when it is closed. */
  private static final class StoredOutput extends CountedOutput {

    StoredOutput(OutputStream out) {
      super(out);
    }

    @Override
    void store(OutputStream written) throws IOException {
      written.close();
    }
  }
}
