package dev.dusky.core.json;

import java.nio.charset.StandardCharsets;

/** The text of JSON strings (RFC 8259, section 7). */
public final class JsonStrings {

  private JsonStrings() {}

  /**
   * Resolves the escapes of a well-formed string's inside. A lone surrogate comes out as its three
   * bytes, which no later text check lets pass.
   *
   * @param to at least as long as the inside
   * @return how many bytes were written
   */
  public static int unescape(byte[] b, int start, int end, byte[] to) {
    int out = 0;
    int i = start;
    while (i < end) {
      byte c = b[i++];
      if (c != '\\') {
        to[out++] = c;
        continue;
      }
      c = b[i++];
      switch (c) {
        case 'n' -> to[out++] = '\n';
        case 't' -> to[out++] = '\t';
        case 'r' -> to[out++] = '\r';
        case 'b' -> to[out++] = '\b';
        case 'f' -> to[out++] = '\f';
        case 'u' -> {
          int code = hex(b, i);
          i += 4;
          boolean pair =
              code >= 0xd800 && code < 0xdc00 && i + 5 < end && b[i] == '\\' && b[i + 1] == 'u';
          int low = pair ? hex(b, i + 2) : 0;
          if (low >= 0xdc00 && low < 0xe000) {
            code = 0x10000 + (code - 0xd800 << 10) + (low - 0xdc00);
            i += 6;
          }
          out = put(code, to, out);
        }
        default -> to[out++] = c;
      }
    }
    return out;
  }

  /** The text of a string's inside. */
  public static String text(byte[] b, int start, int end) {
    byte[] to = new byte[end - start];
    return new String(to, 0, unescape(b, start, end, to), StandardCharsets.UTF_8);
  }

  private static int hex(byte[] b, int at) {
    int value = 0;
    for (int i = at; i < at + 4; i++) {
      value = value << 4 | Character.digit(b[i], 16);
    }
    return value;
  }

  private static int put(int code, byte[] to, int at) {
    int out = at;
    if (code < 0x80) {
      to[out++] = (byte) code;
    } else if (code < 0x800) {
      to[out++] = (byte) (0xc0 | code >> 6);
      to[out++] = (byte) (0x80 | code & 0x3f);
    } else if (code < 0x10000) {
      to[out++] = (byte) (0xe0 | code >> 12);
      to[out++] = (byte) (0x80 | code >> 6 & 0x3f);
      to[out++] = (byte) (0x80 | code & 0x3f);
    } else {
      to[out++] = (byte) (0xf0 | code >> 18);
      to[out++] = (byte) (0x80 | code >> 12 & 0x3f);
      to[out++] = (byte) (0x80 | code >> 6 & 0x3f);
      to[out++] = (byte) (0x80 | code & 0x3f);
    }
    return out;
  }

  /** A text as a JSON string in quotes. */
  public static String quoted(CharSequence text) {
    StringBuilder out = new StringBuilder(text.length() + 2).append('"');
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      switch (c) {
        case '"' -> out.append("\\\"");
        case '\\' -> out.append("\\\\");
        case '\n' -> out.append("\\n");
        case '\r' -> out.append("\\r");
        case '\t' -> out.append("\\t");
        default -> {
          if (c < 0x20) {
            out.append("\\u%04x".formatted((int) c));
          } else {
            out.append(c);
          }
        }
      }
    }
    return out.append('"').toString();
  }
}
