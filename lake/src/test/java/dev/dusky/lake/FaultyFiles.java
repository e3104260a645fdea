package dev.dusky.lake;

import java.io.IOException;
import java.io.UncheckedIOException;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.io.InputFile;
import org.apache.iceberg.io.OutputFile;
import org.apache.iceberg.io.PositionOutputStream;

/** Files of tables whose store fails at a chosen step; the steps are creating and closing files. */
final class FaultyFiles implements FileIO {

  private static final long serialVersionUID = 1;

  private final FileIO real;
  private final transient Runnable step;

  /** The same files; {@code step} runs at each step and may throw. */
  FaultyFiles(FileIO real, Runnable step) {
    this.real = real;
    this.step = step;
  }

  @Override
  public InputFile newInputFile(String path) {
    return real.newInputFile(path);
  }

  @Override
  public OutputFile newOutputFile(String path) {
    OutputFile out = real.newOutputFile(path);
    return new OutputFile() {
      @Override
      public PositionOutputStream create() {
        step.run();
        return new Faulty(out.create());
      }

      @Override
      public PositionOutputStream createOrOverwrite() {
        step.run();
        return new Faulty(out.createOrOverwrite());
      }

      @Override
      public String location() {
        return out.location();
      }

      @Override
      public InputFile toInputFile() {
        return out.toInputFile();
      }
    };
  }

  @Override
  public void deleteFile(String path) {
    real.deleteFile(path);
  }

  private final class Faulty extends PositionOutputStream {
    private final PositionOutputStream out;
    private boolean closed;

    Faulty(PositionOutputStream out) {
      this.out = out;
    }

    @Override
    public long getPos() throws IOException {
      return out.getPos();
    }

    @Override
    public void write(int b) throws IOException {
      out.write(b);
    }

    @Override
    public void write(byte[] from, int start, int length) throws IOException {
      out.write(from, start, length);
    }

    @Override
    public void flush() throws IOException {
      out.flush();
    }

    @Override
    public void close() throws IOException {
      out.close();
      if (!closed) {
        closed = true;
        try {
          step.run();
        } catch (UncheckedIOException e) {
          throw e.getCause();
        }
      }
    }
  }
}
