package dev.dusky.cli.render;

import dev.dusky.core.draft.ContentKind;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/** A file's bytes with everything invisible made visible: lines of text, or hexadecimal. */
final class RawView {

  private static final int LOOK = 64 << 10;
  private static final int LINE_SHOWN = 2_000;

  private final Screen screen;
  private final Style style;

  RawView(Screen screen) {
    this.screen = screen;
    this.style = screen.style();
  }

  void show(InputStream content, int lines) throws IOException {
    byte[] head = content.readNBytes(LOOK);
    boolean text =
        switch (ContentKind.of(head)) {
          case TEXT, JSON, XML -> true;
          default -> false;
        };
    if (text) {
      lines(head, content, lines);
    } else {
      hexadecimal(head, lines);
    }
  }

  private void lines(byte[] head, InputStream rest, int most) throws IOException {
    ByteArrayOutputStream line = new ByteArrayOutputStream();
    int shown = 0;
    int at = 0;
    while (shown < most) {
      int b = at < head.length ? head[at++] & 0xff : rest.read();
      if (b < 0) {
        break;
      }
      if (line.size() == LOOK) {
        print(shown + 1, line.toByteArray());
        screen.remark(
            "Line %d is longer than %d bytes; the view ends here.".formatted(shown + 1, LOOK));
        return;
      }
      line.write(b);
      boolean loneReturn = b == '\r' && at < head.length && head[at] != '\n';
      if (b == '\n' || loneReturn) {
        print(++shown, line.toByteArray());
        line.reset();
      }
    }
    if (line.size() > 0 && shown < most) {
      print(++shown, line.toByteArray());
    }
  }

  private void print(int number, byte[] line) {
    String text = visible(line);
    screen.line(
        style.faint("%6d ".formatted(number))
            + (text.length() > LINE_SHOWN ? text.substring(0, LINE_SHOWN) + "\u2026" : text));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("line", number);
    fields.put("bytes", line.length);
    fields.put("text", text);
    screen.object(fields);
  }

  /** Text with control characters as pictures, odd blanks as marks, bad bytes in brackets. */
  static String visible(byte[] bytes) {
    StringBuilder out = new StringBuilder();
    int i = 0;
    while (i < bytes.length) {
      int length = characterLength(bytes, i);
      if (length == 0) {
        out.append("<%02X>".formatted(bytes[i] & 0xff));
        i++;
        continue;
      }
      String character = new String(bytes, i, length, StandardCharsets.UTF_8);
      int code = character.codePointAt(0);
      if (code < 0x20) {
        out.append((char) (0x2400 + code));
      } else if (code == 0x7f) {
        out.append('\u2421');
      } else if (code == 0xfeff) {
        out.append("<BOM>");
      } else if (code == 0xa0) {
        out.append("<NBSP>");
      } else if (Character.getType(code) == Character.FORMAT
          || Character.isSpaceChar(code) && code != ' ') {
        out.append("<U+%04X>".formatted(code));
      } else {
        out.append(character);
      }
      i += length;
    }
    return out.toString();
  }

  /** The number of bytes of the UTF-8 character there, or 0 if there is none. */
  private static int characterLength(byte[] b, int at) {
    int first = b[at] & 0xff;
    int length = first < 0x80 ? 1 : first < 0xc2 ? 0 : first < 0xe0 ? 2 : first < 0xf0 ? 3 : 4;
    if (length == 0 || at + length > b.length || first > 0xf4) {
      return 0;
    }
    for (int i = 1; i < length; i++) {
      if ((b[at + i] & 0xc0) != 0x80) {
        return 0;
      }
    }
    return length;
  }

  private void hexadecimal(byte[] head, int rows) {
    for (int row = 0; row < rows && row * 16 < head.length; row++) {
      StringBuilder hex = new StringBuilder();
      StringBuilder text = new StringBuilder();
      for (int i = row * 16; i < Math.min(head.length, row * 16 + 16); i++) {
        hex.append("%02x ".formatted(head[i] & 0xff));
        text.append(head[i] >= 0x20 && head[i] < 0x7f ? (char) head[i] : '\u00b7');
      }
      screen.line(style.faint("%08x  ".formatted(row * 16)) + "%-49s".formatted(hex) + text);
      Map<String, Object> fields = new LinkedHashMap<>();
      fields.put("offset", row * 16);
      fields.put("hex", hex.toString().strip());
      screen.object(fields);
    }
  }
}
