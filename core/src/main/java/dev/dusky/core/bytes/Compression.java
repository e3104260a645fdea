package dev.dusky.core.bytes;

import java.io.IOException;
import java.io.InputStream;
import org.apache.commons.compress.compressors.gzip.GzipCompressorInputStream;

/** How a stored file is compressed, recognised by its first bytes and never by its name. */
public enum Compression {
  /** Not compressed. */
  PLAIN,
  /** gzip (RFC 1952), one member or several in a row. */
  GZIP;

  static Compression recognise(byte[] head, int length) {
    return length >= 3 && head[0] == 0x1f && (head[1] & 0xff) == 0x8b && head[2] == 8
        ? GZIP
        : PLAIN;
  }

  InputStream open(InputStream stored) throws IOException {
    return switch (this) {
      case PLAIN -> stored;
      case GZIP ->
          GzipCompressorInputStream.builder()
              .setInputStream(stored)
              .setDecompressConcatenated(true)
              .get();
    };
  }
}
