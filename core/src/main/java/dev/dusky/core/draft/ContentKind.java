package dev.dusky.core.draft;

import dev.dusky.core.layout.Encoding;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;

/** The kind of content, and the encoding of text. */
public enum ContentKind {
  PARQUET("parquet"),
  AVRO("avro"),
  ORC("orc"),
  WORKBOOK("workbook"),
  ARCHIVE("a zip archive"),
  XML("xml"),
  JSON("json"),
  TEXT("text"),
  UNKNOWN("unknown");

  private final String label;

  ContentKind(String label) {
    this.label = label;
  }

  /** The name used in messages. */
  public String label() {
    return label;
  }

  /** The kind that begins with these bytes. */
  public static ContentKind of(byte[] head) {
    if (begins(head, "PAR1")) {
      return PARQUET;
    }
    if (begins(head, "Obj\u0001")) {
      return AVRO;
    }
    if (begins(head, "ORC")) {
      return ORC;
    }
    if (begins(head, "PK\u0003\u0004")) {
      String text = new String(head, 0, Math.min(head.length, 4096), StandardCharsets.ISO_8859_1);
      return text.contains("[Content_Types].xml") || text.contains("xl/") || text.contains("_rels")
          ? WORKBOOK
          : ARCHIVE;
    }
    Encoding encoding = encoding(head);
    if (encoding == null) {
      return UNKNOWN;
    }
    String text = text(head, encoding).stripLeading();
    if (text.startsWith("<?xml") || text.matches("(?s)<[A-Za-z_!].*>.*")) {
      return XML;
    }
    boolean json =
        text.matches("(?s)\\{\\s*(\"|\\}).*")
            || text.matches("(?s)\\[\\s*([\\[{\"\\]0-9-]|true|false|null).*");
    return json ? JSON : TEXT;
  }

  private static boolean begins(byte[] head, String mark) {
    if (head.length < mark.length()) {
      return false;
    }
    for (int i = 0; i < mark.length(); i++) {
      if (head[i] != (byte) mark.charAt(i)) {
        return false;
      }
    }
    return true;
  }

  /** The encoding of text, or null if the bytes are none. */
  public static Encoding encoding(byte[] head) {
    int a = head.length > 0 ? head[0] & 0xff : 0;
    int b = head.length > 1 ? head[1] & 0xff : 0;
    if (a == 0xff && b == 0xfe) {
      return Encoding.UTF_16LE;
    }
    if (a == 0xfe && b == 0xff) {
      return Encoding.UTF_16BE;
    }
    int evenNuls = 0;
    int oddNuls = 0;
    int high = 0;
    for (int i = 0; i < head.length; i++) {
      if (head[i] == 0) {
        evenNuls += i % 2 == 0 ? 1 : 0;
        oddNuls += i % 2;
      } else if (head[i] < 0 && (head[i] & 0xff) < 0xa0) {
        high++;
      }
    }
    if (oddNuls > head.length / 8 && evenNuls == 0) {
      return Encoding.UTF_16LE;
    }
    if (evenNuls > head.length / 8 && oddNuls == 0) {
      return Encoding.UTF_16BE;
    }
    if (evenNuls + oddNuls > 0) {
      return null;
    }
    if (isUtf8(head)) {
      return Encoding.UTF_8;
    }
    return high > 0 ? Encoding.WINDOWS_1252 : Encoding.ISO_8859_1;
  }

  private static boolean isUtf8(byte[] head) {
    // More may come: a character cut at the end of the sample is not a fault.
    return !StandardCharsets.UTF_8
        .newDecoder()
        .onMalformedInput(CodingErrorAction.REPORT)
        .decode(ByteBuffer.wrap(head), CharBuffer.allocate(head.length + 1), false)
        .isError();
  }

  /** Bytes as text. */
  static String text(byte[] bytes, Encoding encoding) {
    String text =
        new String(
            bytes,
            switch (encoding) {
              case UTF_8 -> StandardCharsets.UTF_8;
              case UTF_16, UTF_16BE -> StandardCharsets.UTF_16BE;
              case UTF_16LE -> StandardCharsets.UTF_16LE;
              case ISO_8859_1 -> StandardCharsets.ISO_8859_1;
              case WINDOWS_1252 -> java.nio.charset.Charset.forName("windows-1252");
            });
    return text.startsWith("\ufeff") ? text.substring(1) : text;
  }
}
