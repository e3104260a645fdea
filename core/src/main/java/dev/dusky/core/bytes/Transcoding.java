package dev.dusky.core.bytes;

import dev.dusky.core.layout.Encoding;
import java.io.InputStream;

/**
 * Brings text of any declared encoding into UTF-8 without losing a byte, so that all later parts
 * know one form only. What is not valid in the source becomes a lone surrogate in the output
 * (generalised UTF-8, as in the WTF-8 note by Simon Sapin): it fails the later text check and can
 * still be turned back into the very bytes of the file.
 */
public interface Transcoding {

  /** Wraps the file's bytes, the byte order mark removed, in a stream of UTF-8. */
  InputStream decode(InputStream source);

  /**
   * Whether a byte of ASCII represents itself wherever it is, so that text can be entered there.
   */
  boolean enterable();

  /** How many bytes of the file the UTF-8 bytes in {@code [from, to)} represent. */
  int originalLength(byte[] utf8, int from, int to);

  /** The bytes of the file that the UTF-8 bytes in {@code [from, to)} represent. */
  byte[] original(byte[] utf8, int from, int to);

  /** The transcoding of an encoding. */
  static Transcoding of(Encoding encoding) {
    return switch (encoding) {
      case UTF_8 -> new SameBytes();
      case ISO_8859_1, WINDOWS_1252 -> new SingleByteTranscoding(encoding);
      case UTF_16, UTF_16BE -> new Utf16Transcoding(true);
      case UTF_16LE -> new Utf16Transcoding(false);
    };
  }
}
