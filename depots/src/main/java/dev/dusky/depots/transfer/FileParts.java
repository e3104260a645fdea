package dev.dusky.depots.transfer;

import dev.dusky.core.depot.Uplink;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.Callable;

/**
 * A local file as it goes to an object store: in one piece, or in parts of equal size if it is
 * large, each with its MD5. Every byte is read for its digest once.
 *
 * @param size the file's bytes
 * @param partSize the size of a part but the last
 * @param parts its parts in order; a small file is one
 */
public record FileParts(long size, long partSize, List<Part> parts) {

  /** The size of a part but the last, unless the depot declares another. */
  public static final long PART_SIZE = 16L << 20;

  /** The maximum number of parts that stores accept. */
  public static final int MOST_PARTS = 10_000;

  private static final long MEBIBYTE = 1L << 20;

  /**
   * One part.
   *
   * @param number from 1
   */
  public record Part(int number, long start, long length, byte[] md5) {

    /** The etag that a store gives it. */
    public String etag() {
      return HexFormat.of().formatHex(md5);
    }

    /** Its digest as requests carry it. */
    public String contentMd5() {
      return Base64.getEncoder().encodeToString(md5);
    }
  }

  /**
   * How large the parts of a file of that size are: the size wished for, or more where there would
   * be more than 10,000 parts, in whole mebibytes.
   */
  public static long partSize(long size, long wished) {
    long least = (size + MOST_PARTS - 1) / MOST_PARTS;
    return Math.max(wished, (least + MEBIBYTE - 1) / MEBIBYTE * MEBIBYTE);
  }

  /**
   * Reads the file for the digests of its parts, several of them concurrently.
   *
   * @param wished the size of a part in bytes; smaller files are one part
   */
  public static FileParts of(Path file, Uplink uplink, long wished) throws IOException {
    long size = Files.size(file);
    if (size < wished) {
      return new FileParts(
          size, wished, List.of(new Part(1, 0, size, FileDigests.of("MD5", file, 0, size))));
    }
    long partSize = partSize(size, wished);
    List<Callable<Part>> work = new ArrayList<>();
    for (long start = 0; start < size; start += partSize) {
      int number = work.size() + 1;
      long from = start;
      long length = Math.min(partSize, size - start);
      work.add(() -> new Part(number, from, length, FileDigests.of("MD5", file, from, length)));
    }
    return new FileParts(size, partSize, uplink.all(work));
  }

  /** Whether it goes in parts. */
  public boolean several() {
    return size >= partSize;
  }

  /** The etag that stores give the whole, if they give MD5s. */
  public String etag() {
    if (!several()) {
      return parts.get(0).etag();
    }
    MessageDigest all = FileDigests.digest("MD5");
    parts.forEach(part -> all.update(part.md5()));
    return HexFormat.of().formatHex(all.digest()) + "-" + parts.size();
  }
}
