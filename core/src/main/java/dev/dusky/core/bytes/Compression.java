package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorInputStream;
import org.apache.commons.compress.compressors.gzip.GzipCompressorInputStream;
import org.apache.commons.compress.compressors.lz4.FramedLZ4CompressorInputStream;
import org.apache.commons.compress.compressors.snappy.FramedSnappyCompressorInputStream;
import org.apache.commons.compress.compressors.xz.XZCompressorInputStream;
import org.apache.commons.compress.compressors.zstandard.ZstdCompressorInputStream;

/** How a stored file is compressed, recognised by its first bytes and never by its name. */
public enum Compression {
  /** Not compressed. */
  PLAIN("none"),
  /** gzip (RFC 1952), one member or several in a row. */
  GZIP("gzip", 0x1f, 0x8b, 8),
  /** Zstandard (RFC 8878). */
  ZSTD("zstd", 0x28, 0xb5, 0x2f, 0xfd),
  /** bzip2; its header, then the first block's mark. */
  BZIP2("bzip2", 'B', 'Z', 'h', -1, 0x31, 0x41, 0x59, 0x26, 0x53, 0x59),
  /** xz. */
  XZ("xz", 0xfd, '7', 'z', 'X', 'Z', 0),
  /** LZ4 in its frame format. */
  LZ4("lz4", 0x04, 0x22, 0x4d, 0x18),
  /** Snappy in its framing format. */
  SNAPPY("snappy", 0xff, 0x06, 0x00, 0x00, 0x73, 0x4e, 0x61, 0x50, 0x70, 0x59);

  /** How many bytes {@link #recognise} needs. */
  static final int LOOK = 10;

  private static final int GZIP_BUFFER = 64 << 10;

  /** The most memory an xz stream may ask for, in KiB. */
  private static final int XZ_MEMORY = 128 << 10;

  private final String label;
  private final int[] mark;

  Compression(String label, int... mark) {
    this.label = label;
    this.mark = mark;
  }

  /** The name used in messages. */
  public String label() {
    return label;
  }

  /** The compression that begins with these bytes. */
  public static Compression recognise(byte[] head) {
    for (Compression compression : values()) {
      if (compression != PLAIN && compression.begins(head)) {
        return compression;
      }
    }
    return PLAIN;
  }

  private boolean begins(byte[] head) {
    if (head.length < mark.length) {
      return false;
    }
    for (int i = 0; i < mark.length; i++) {
      if (mark[i] >= 0 && (head[i] & 0xff) != mark[i]) {
        return false;
      }
    }
    return true;
  }

  InputStream open(InputStream stored) throws IOException {
    return switch (this) {
      case PLAIN -> stored;
      case GZIP ->
          GzipCompressorInputStream.builder()
              .setInputStream(stored)
              .setBufferSize(GZIP_BUFFER)
              .setDecompressConcatenated(true)
              .get();
      case ZSTD -> new ZstdCompressorInputStream(stored);
      case BZIP2 -> new BZip2CompressorInputStream(stored, true);
      case XZ ->
          XZCompressorInputStream.builder()
              .setInputStream(stored)
              .setDecompressConcatenated(true)
              .setMemoryLimitKiB(XZ_MEMORY)
              .get();
      case LZ4 -> new FramedLZ4CompressorInputStream(stored, true);
      case SNAPPY -> new FramedSnappyCompressorInputStream(stored);
    };
  }
}
