package dev.dusky.core.reject;

import dev.dusky.core.bytes.TemporaryFolder;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/**
 * Keeps a file's rejects until its fate is settled. They wait in a temporary file, made with the
 * first reject, so that memory stays small whatever their number and size.
 */
public final class RejectSpool implements AutoCloseable {

  private Path file;
  private DataOutputStream out;
  private long count;

  /** Adds a reject. */
  public void add(Reject reject) {
    try {
      if (out == null) {
        file = TemporaryFolder.newFile(".rejects");
        out = new DataOutputStream(new BufferedOutputStream(Files.newOutputStream(file)));
      }
      out.writeLong(reject.recordNumber());
      out.writeLong(reject.line());
      out.writeLong(reject.byteOffset());
      text(reject.place());
      bytes(reject.raw());
      out.writeBoolean(reject.rawCut());
      out.writeInt(reject.piece());
      bytes(reject.context());
      out.writeInt(reject.problems().size());
      for (Problem problem : reject.problems()) {
        out.writeByte(problem.code().ordinal());
        text(problem.column());
        text(problem.value());
        text(problem.message());
      }
      count++;
    } catch (IOException e) {
      throw TemporaryFolder.failure("Keeping rejects", e);
    }
  }

  private void bytes(byte[] value) throws IOException {
    out.writeInt(value.length);
    out.write(value);
  }

  private void text(String value) throws IOException {
    bytes(value.getBytes(StandardCharsets.UTF_8));
  }

  /** The same rejects for use after this has been closed; none are left here. */
  public RejectSpool taken() {
    RejectSpool other = new RejectSpool();
    other.file = file;
    other.out = out;
    other.count = count;
    file = null;
    out = null;
    count = 0;
    return other;
  }

  /** Writes how many there are, and all of them, for another process. */
  public void write(DataOutputStream into) throws IOException {
    into.writeLong(count);
    if (out != null) {
      out.flush();
      Files.copy(file, into);
    }
  }

  /** Keeps what another process has written. */
  public static RejectSpool read(DataInputStream from) throws IOException {
    RejectSpool spool = new RejectSpool();
    for (long left = from.readLong(); left > 0; left--) {
      spool.add(readOne(from));
    }
    return spool;
  }

  /** How many rejects are kept. */
  public long count() {
    return count;
  }

  /** Gives all rejects in the order in which they came; may be called again. */
  public void forEach(Consumer<Reject> taker) {
    if (out == null) {
      return;
    }
    try {
      out.flush();
      try (DataInputStream in =
          new DataInputStream(new BufferedInputStream(Files.newInputStream(file)))) {
        for (long i = 0; i < count; i++) {
          taker.accept(readOne(in));
        }
      }
    } catch (IOException e) {
      throw TemporaryFolder.failure("Reading back rejects", e);
    }
  }

  private static Reject readOne(DataInputStream in) throws IOException {
    long recordNumber = in.readLong();
    long line = in.readLong();
    long byteOffset = in.readLong();
    String place = readText(in);
    byte[] raw = in.readNBytes(in.readInt());
    boolean cut = in.readBoolean();
    int piece = in.readInt();
    byte[] context = in.readNBytes(in.readInt());
    int problems = in.readInt();
    List<Problem> list = new ArrayList<>(problems);
    for (int i = 0; i < problems; i++) {
      list.add(
          new Problem(
              RejectCode.values()[in.readByte()], readText(in), readText(in), readText(in)));
    }
    return new Reject(recordNumber, line, byteOffset, place, raw, cut, piece, context, list);
  }

  private static String readText(DataInputStream in) throws IOException {
    return new String(in.readNBytes(in.readInt()), StandardCharsets.UTF_8);
  }

  @Override
  public void close() {
    if (out == null) {
      return;
    }
    try {
      out.close();
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw TemporaryFolder.failure("Removing kept rejects", e);
    }
  }
}
