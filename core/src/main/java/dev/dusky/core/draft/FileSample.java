package dev.dusky.core.draft;

import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedContent;
import dev.dusky.core.depot.StagedFile;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * Some of a file's uncompressed bytes: its beginning and, where one can jump, a piece from the
 * middle and one from the end.
 *
 * @param file the file
 * @param compression how it is stored
 * @param head its first bytes
 * @param whole whether those are all
 * @param pieces later pieces, each from behind a line end
 */
record FileSample(
    StagedFile file, Compression compression, byte[] head, boolean whole, List<byte[]> pieces) {

  private static final int PIECE = 64 << 10;
  private static final int LEAST = 256 << 10;

  /** Takes a sample of at most that many bytes from the beginning, and two small pieces. */
  public static FileSample of(Depot depot, StagedFile file, int most) throws IOException {
    return of(depot, file, most, System.nanoTime() + Long.MAX_VALUE / 2);
  }

  /**
   * The same, with what came of the beginning until a moment of {@link System#nanoTime}, but a few
   * hundred kilobytes at least.
   */
  static FileSample of(Depot depot, StagedFile file, int most, long deadline) throws IOException {
    byte[] head;
    boolean whole;
    Compression compression;
    try (FileContent content =
        new FileContent(file.path(), depot.open(file), ContentLimits.DEFAULT)) {
      head = head(content, most, deadline);
      whole = content.read(new byte[1], 0, 1) < 0;
      compression = content.compression();
    }
    List<byte[]> pieces = new ArrayList<>();
    if (!whole && compression == Compression.PLAIN && depot.seekable(file)) {
      StagedContent content = new StagedContent(depot, file);
      long size = file.size();
      for (long from :
          new long[] {Math.max(head.length, size / 2), Math.max(head.length, size - PIECE)}) {
        int length = (int) Math.min(PIECE, size - from);
        if (length > 0) {
          pieces.add(wholeLines(content.bytes(from, length), from + length == size));
        }
      }
    }
    return new FileSample(file, compression, head, whole, pieces);
  }

  private static byte[] head(FileContent content, int most, long deadline) throws IOException {
    ByteArrayOutputStream head = new ByteArrayOutputStream();
    while (head.size() < most && (head.size() < LEAST || System.nanoTime() - deadline < 0)) {
      byte[] block = content.readNBytes(Math.min(LEAST, most - head.size()));
      if (block.length == 0) {
        break;
      }
      head.write(block);
    }
    return head.toByteArray();
  }

  /** The content between the first line end and the last one. */
  private static byte[] wholeLines(byte[] piece, boolean atEnd) {
    int from = 0;
    while (from < piece.length && piece[from] != '\n') {
      from++;
    }
    int to = piece.length;
    while (!atEnd && to > from && piece[to - 1] != '\n') {
      to--;
    }
    return from + 1 >= to ? new byte[0] : java.util.Arrays.copyOfRange(piece, from + 1, to);
  }

  /** The beginning as far as its last whole line. */
  public byte[] lines() {
    return whole ? head : cut(head);
  }

  private static byte[] cut(byte[] bytes) {
    int to = bytes.length;
    while (to > 0 && bytes[to - 1] != '\n' && bytes[to - 1] != '\r') {
      to--;
    }
    return to == 0 ? bytes : java.util.Arrays.copyOf(bytes, to);
  }
}
