package dev.dusky.engine;

import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.channels.SeekableByteChannel;
import org.apache.iceberg.exceptions.NotFoundException;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.io.InputFile;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.io.PositionOutputStream;
import org.apache.iceberg.io.SeekableInputStream;

/**
 * Files of tables in a store, on any of the engine's machines, through the program's own client:
 * its credentials, retries and checksums. Locations elsewhere are refused.
 */
final class ProgramFiles implements FileIO {

  private static final long serialVersionUID = 1;

  private final Program program;
  private final String worker;
  private final byte[] order;
  private final String at;
  private transient Object client;

  /**
   * Files below a location.
   *
   * @param worker the program's class that reaches the store, which is made of the order
   */
  ProgramFiles(Program program, String worker, byte[] order, String at) {
    this.program = program;
    this.worker = worker;
    this.order = order;
    this.at = at.endsWith("/") ? at : at + "/";
  }

  private synchronized Object client() throws IOException {
    if (client == null) {
      client = program.open(worker, order);
    }
    return client;
  }

  private Object call(String method, String location) {
    if (!location.startsWith(at) || location.contains("/../")) {
      throw new SecurityException(location + " is not below " + at);
    }
    try {
      Object reached = client();
      return program.within(
          () ->
              reached
                  .getClass()
                  .getMethod(method, String.class)
                  .invoke(reached, location.substring(at.length())));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  public InputFile newInputFile(String location) {
    return new Input(location);
  }

  @Override
  public OutputFile newOutputFile(String location) {
    return new Output(location);
  }

  @Override
  public void deleteFile(String location) {
    call("remove", location);
  }

  private final class Input implements InputFile {
    private final String location;
    private SeekableByteChannel looked;

    Input(String location) {
      this.location = location;
    }

    private SeekableByteChannel open() {
      SeekableByteChannel opened = (SeekableByteChannel) call("read", location);
      if (opened == null) {
        throw new NotFoundException("%s does not exist", location);
      }
      return opened;
    }

    @Override
    public synchronized long getLength() {
      if (looked == null) {
        looked = open();
      }
      try {
        return looked.size();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public synchronized SeekableInputStream newStream() {
      SeekableByteChannel taken = looked == null ? open() : looked;
      looked = null;
      return new ProgramInput(program, taken);
    }

    @Override
    public String location() {
      return location;
    }

    @Override
    public boolean exists() {
      return call("read", location) != null;
    }
  }

  private final class Output implements OutputFile {
    private final String location;

    Output(String location) {
      this.location = location;
    }

    @Override
    public PositionOutputStream create() {
      return new ProgramOutput(program, (OutputStream) call("write", location));
    }

    @Override
    public PositionOutputStream createOrOverwrite() {
      return create();
    }

    @Override
    public String location() {
      return location;
    }

    @Override
    public InputFile toInputFile() {
      return new Input(location);
    }
  }
}
