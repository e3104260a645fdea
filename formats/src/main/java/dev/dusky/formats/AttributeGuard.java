package dev.dusky.formats;

import dev.dusky.core.failure.Failure;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.HashSet;
import java.util.Set;

/**
 * Bounds the names in an XML document. The parser takes time that grows with the square of the
 * different names it has met, so a document of many names would keep it busy for hours. Attributes
 * are counted in the bytes on their way to the parser, since it gives nothing back within a tag.
 */
final class AttributeGuard extends FilterInputStream {

  /** The most attributes of one element. */
  static final int MOST_ATTRIBUTES = 10_000;

  /** The most different names of elements and attributes. */
  static final int MOST_NAMES = 20_000;

  private final String path;
  private final Set<String> names = new HashSet<>();
  private int attributes;
  private boolean equals;

  AttributeGuard(String path, InputStream in) {
    super(in);
    this.path = path;
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] to, int offset, int most) throws IOException {
    int read = in.read(to, offset, most);
    for (int i = offset; i < offset + read; i++) {
      byte b = to[i];
      if (equals && (b == '"' || b == '\'')) {
        attributes++;
      }
      if (b != ' ') {
        equals = b == '=';
      }
    }
    if (attributes > MOST_ATTRIBUTES) {
      throw tooMany("an element with more than %,d attributes".formatted(MOST_ATTRIBUTES));
    }
    return read;
  }

  /** The parser has given something back: what was counted before does not belong together. */
  void event() {
    attributes = 0;
  }

  /** Counts a name if it is a new one. */
  void name(String name) {
    if (names.add(name) && names.size() > MOST_NAMES) {
      throw tooMany("more than %,d different names".formatted(MOST_NAMES));
    }
  }

  private Failure tooMany(String what) {
    return Failure.file(path + " has too many names")
        .because("it has " + what)
        .hint("Ask the sender for a document without data in its names");
  }
}
