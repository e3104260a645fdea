package dev.dusky.depots;

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
 * @param parts its parts in order; a small file is one
 */
record FileParts(long size, List<Part> parts) {

  /** Files from this size on are stored in parts. */
  static final long MULTIPART_FROM = 16L << 20;

  /** The least size of a part but the last. */
  static final long LEAST_PART = 16L << 20;

  /** The maximum number of parts that stores accept. */
  static final int MOST_PARTS = 10_000;

  private static final long MEBIBYTE = 1L << 20;

  /**
   * One part.
   *
   * @param number from 1
   */
  record Part(int number, long start, long length, byte[] md5) {

    /** The etag that a store gives it. */
    String etag() {
      return HexFormat.of().formatHex(md5);
    }

    /** Its digest as requests carry it. */
    String contentMd5() {
      return Base64.getEncoder().encodeToString(md5);
    }
  }

  /** How large the parts of a file of that size are: whole mebibytes, no more than 10,000 parts. */
  static long partSize(long size) {
    long least = (size + MOST_PARTS - 1) / MOST_PARTS;
    return Math.max(LEAST_PART, (least + MEBIBYTE - 1) / MEBIBYTE * MEBIBYTE);
  }

  /** Reads the file for the digests of its parts, several of them concurrently. */
  static FileParts of(Path file, Uplink uplink) throws IOException {
    long size = Files.size(file);
    if (size < MULTIPART_FROM) {
      return new FileParts(
          size, List.of(new Part(1, 0, size, FileDigests.of("MD5", file, 0, size))));
    }
    long partSize = partSize(size);
    List<Callable<Part>> work = new ArrayList<>();
    for (long start = 0; start < size; start += partSize) {
      int number = work.size() + 1;
      long from = start;
      long length = Math.min(partSize, size - start);
      work.add(() -> new Part(number, from, length, FileDigests.of("MD5", file, from, length)));
    }
    return new FileParts(size, uplink.all(work));
  }

  /** Whether it goes in parts. */
  boolean several() {
    return size >= MULTIPART_FROM;
  }

  /** The etag that stores give the whole, if they give MD5s. */
  String etag() {
    if (!several()) {
      return parts.get(0).etag();
    }
    MessageDigest all = FileDigests.digest("MD5");
    parts.forEach(part -> all.update(part.md5()));
    return HexFormat.of().formatHex(all.digest()) + "-" + parts.size();
  }
}
