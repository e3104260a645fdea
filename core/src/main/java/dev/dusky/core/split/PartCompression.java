package dev.dusky.core.split;

import com.github.luben.zstd.ZstdOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Locale;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;

/** How staged parts are compressed. The same bytes always give the same part. */
public enum PartCompression {
  /** Not at all. */
  NONE("none", ""),
  /** Zstandard (RFC 8878). */
  ZSTD("zstd", ".zst"),
  /** gzip (RFC 1952). */
  GZIP("gzip", ".gz");

  private static final int BUFFER = 64 << 10;

  private final String label;
  private final String extension;

  PartCompression(String label, String extension) {
    this.label = label;
    this.extension = extension;
  }

  /** The compression with that name. */
  public static Optional<PartCompression> of(String label) {
    for (PartCompression compression : values()) {
      if (compression.label.equals(label)) {
        return Optional.of(compression);
      }
    }
    return Optional.empty();
  }

  /** The compression that a path's ending says. */
  public static PartCompression ofPath(String path) {
    String lower = path.toLowerCase(Locale.ROOT);
    for (PartCompression compression : values()) {
      if (compression != NONE && lower.endsWith(compression.extension)) {
        return compression;
      }
    }
    return NONE;
  }

  /** What is added to the name of a file so compressed. */
  public String extension() {
    return extension;
  }

  /** Compresses what is written; closing closes the stream underneath too. */
  public OutputStream open(OutputStream out) throws IOException {
    return switch (this) {
      case NONE -> out;
      case ZSTD -> new ZstdOutputStream(out);
      case GZIP -> new GZIPOutputStream(out, BUFFER);
    };
  }
}
