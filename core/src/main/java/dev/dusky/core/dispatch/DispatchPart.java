package dev.dusky.core.dispatch;

import dev.dusky.core.depot.StagedFile;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * Files that one machine attempts, one after the other. Small files of a part share data files.
 *
 * @param files the files
 */
public record DispatchPart(List<Assigned> files) implements SurveyPart {

  /** Files below this size share a part. */
  private static final long SMALL = 8L << 20;

  private static final long MOST_BYTES = 32L << 20;
  private static final int MOST_FILES = 64;

  /**
   * A file whose claim is held.
   *
   * @param file the file
   * @param fileId its number in the ledger
   */
  public record Assigned(StagedFile file, long fileId) {}

  public DispatchPart {
    files = List.copyOf(files);
  }

  /** Divides files, which stay in their order. */
  public static List<DispatchPart> divide(List<Assigned> files) {
    List<DispatchPart> parts = new ArrayList<>();
    List<Assigned> part = new ArrayList<>();
    long bytes = 0;
    for (Assigned next : files) {
      long size = next.file().size();
      boolean full = part.size() == MOST_FILES || size > SMALL || bytes + size > MOST_BYTES;
      if (full && !part.isEmpty()) {
        parts.add(new DispatchPart(part));
        part.clear();
        bytes = 0;
      }
      part.add(next);
      bytes += size > SMALL ? MOST_BYTES : size;
    }
    if (!part.isEmpty()) {
      parts.add(new DispatchPart(part));
    }
    return parts;
  }

  @Override
  public byte[] bytes() {
    return Form.bytes(
        out -> {
          out.data().writeBoolean(false);
          out.all(files, assigned -> write(out, assigned));
        });
  }

  private static void write(Form.Output out, Assigned assigned) throws IOException {
    out.text(assigned.file().path());
    out.data().writeLong(assigned.file().size());
    out.text(assigned.file().mark());
    out.data().writeLong(assigned.file().modified().getEpochSecond());
    out.data().writeInt(assigned.file().modified().getNano());
    out.data().writeLong(assigned.fileId());
  }

  static DispatchPart read(Form.Input in) throws IOException {
    return new DispatchPart(
        in.all(
            () ->
                new Assigned(
                    new StagedFile(
                        in.text(),
                        in.data().readLong(),
                        in.text(),
                        Instant.ofEpochSecond(in.data().readLong(), in.data().readInt())),
                    in.data().readLong())));
  }
}
