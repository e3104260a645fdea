package dev.dusky.core.bytes;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.Encoding;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;

/**
 * A text file's bytes as UTF-8: a byte order mark is recognised and removed, binary files are
 * refused by their first bytes.
 *
 * @param utf8 the text
 * @param transcoding the way back to the file's bytes
 * @param mark the byte order mark, or no bytes
 */
public record TextContent(InputStream utf8, Transcoding transcoding, byte[] mark) {

  private static final int LOOK = 4096;

  /** What the files of another kind begin with. */
  private record Magic(byte[] bytes, String what) {
    static Magic of(String text, String what) {
      return new Magic(text.getBytes(StandardCharsets.ISO_8859_1), what);
    }

    boolean begins(byte[] head) {
      return head.length >= bytes.length
          && Arrays.equals(head, 0, bytes.length, bytes, 0, bytes.length);
    }
  }

  private static final List<Magic> MAGIC =
      List.of(
          Magic.of("PAR1", "a Parquet file"),
          Magic.of("Obj\u0001", "an Avro file"),
          Magic.of("ORC", "an ORC file"),
          Magic.of("PK\u0003\u0004", "a zip archive or workbook"),
          Magic.of("%PDF", "a PDF document"),
          Magic.of("\u0089PNG", "a PNG picture"),
          Magic.of("BZh", "bzip2-compressed data"),
          Magic.of("\u00fd7zXZ", "xz-compressed data"),
          Magic.of("(\u00b5/\u00fd", "zstd-compressed data"));

  /** Looks at the first bytes and opens the text, or fails if it is none. */
  public static TextContent open(String path, InputStream content, Encoding declared, String kind)
      throws IOException {
    BufferedInputStream in = new BufferedInputStream(content, 2 * LOOK);
    in.mark(LOOK);
    byte[] head = in.readNBytes(LOOK);
    in.reset();
    Encoding encoding = declared;
    int mark = 0;
    if (starts(head, 0xef, 0xbb, 0xbf)) {
      encoding = Encoding.UTF_8;
      mark = 3;
    } else if (starts(head, 0xff, 0xfe)) {
      encoding = Encoding.UTF_16LE;
      mark = 2;
    } else if (starts(head, 0xfe, 0xff)) {
      encoding = Encoding.UTF_16BE;
      mark = 2;
    }
    boolean wide = encoding.name().startsWith("UTF_16");
    refuseBinary(path, head, wide, kind);
    in.skipNBytes(mark);
    Transcoding transcoding = Transcoding.of(encoding);
    return new TextContent(transcoding.decode(in), transcoding, Arrays.copyOf(head, mark));
  }

  private static void refuseBinary(String path, byte[] head, boolean wide, String kind) {
    for (Magic magic : MAGIC) {
      if (!magic.begins(head)) {
        continue;
      }
      if (head[0] == 'P' && head[1] == 'K' && path.contains("!/")) {
        throw Failure.file(path + " is not " + kind)
            .because("it is a zip archive, or a workbook, within an archive")
            .hint("Archives within archives are not opened: unpack it and stage its files");
      }
      throw Failure.file(path + " is not " + kind)
          .because("its first bytes are those of " + magic.what())
          .hint("Check which file was staged, or give the feed a layout of that kind");
    }
    for (int i = 0; !wide && i < head.length; i++) {
      if (head[i] == 0) {
        boolean perhapsWide = head.length > 3 && (head[0] == 0) != (head[1] == 0);
        throw Failure.file(path + " is not text in the declared encoding")
            .because("byte " + i + " is NUL, which is not allowed in text")
            .hint(
                perhapsWide
                    ? "It looks like UTF-16 without a byte order mark: set encoding: utf-16"
                        + (head[0] == 0 ? "be" : "le")
                        + " in the layout"
                    : "It is probably a binary file: check which file was staged");
      }
    }
  }

  private static boolean starts(byte[] head, int... values) {
    if (head.length < values.length) {
      return false;
    }
    for (int i = 0; i < values.length; i++) {
      if ((head[i] & 0xff) != values[i]) {
        return false;
      }
    }
    return true;
  }
}
