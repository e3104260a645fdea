package dev.dusky.engine;

import java.io.IOException;
import java.io.OutputStream;
import org.apache.iceberg.io.PositionOutputStream;

/** Writes a file, which the program stores when the stream is closed. */
final class ProgramOutput extends PositionOutputStream {

  private final Program program;
  private final OutputStream out;
  private long position;

  ProgramOutput(Program program, OutputStream out) {
    this.program = program;
    this.out = out;
  }

  @Override
  public long getPos() {
    return position;
  }

  @Override
  public void write(int b) throws IOException {
    out.write(b);
    position++;
  }

  @Override
  public void write(byte[] from, int start, int length) throws IOException {
    out.write(from, start, length);
    position += length;
  }

  @Override
  public void flush() throws IOException {
    out.flush();
  }

  @Override
  public void close() throws IOException {
    program.within(
        () -> {
          out.close();
          return null;
        });
  }
}
