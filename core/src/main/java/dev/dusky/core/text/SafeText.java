package dev.dusky.core.text;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Makes text of any origin safe to show: names of files, values and refusals may have characters
 * that move the cursor, forge a line, or turn the direction of what follows. Control characters
 * become their pictures (U+2400 and on), all others that do not show become <code>\\u{202e}</code>
 * and the like.
 */
public final class SafeText {

  /** The escape sequences of our colours; no other sequence is allowed. */
  private static final Pattern STYLE = Pattern.compile("\u001b\\[(?:0|1|2|32|33|1;31)m");

  private SafeText() {}

  /** Text for a part of one line: line ends and tabs show as characters too. */
  public static String line(String text) {
    return shown(text, false);
  }

  /** Text of several lines: line ends stay. */
  public static String block(String text) {
    return shown(text, true);
  }

  /**
   * A line or block whose own colours stay.
   *
   * @param lines whether line ends stay
   */
  public static String styled(String text, boolean lines) {
    if (text.indexOf('\u001b') < 0) {
      return shown(text, lines);
    }
    StringBuilder out = new StringBuilder();
    Matcher style = STYLE.matcher(text);
    int from = 0;
    while (style.find()) {
      out.append(shown(text.substring(from, style.start()), lines)).append(style.group());
      from = style.end();
    }
    return out.append(shown(text.substring(from), lines)).toString();
  }

  /** A JSON text: characters that do not show, which it has in strings alone, are escaped. */
  public static String json(String text) {
    StringBuilder out = null;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      boolean alone =
          Character.isSurrogate(c)
              && !(Character.isHighSurrogate(c)
                  && i + 1 < text.length()
                  && Character.isLowSurrogate(text.charAt(i + 1)))
              && !(Character.isLowSurrogate(c)
                  && i > 0
                  && Character.isHighSurrogate(text.charAt(i - 1)));
      if (!Character.isSurrogate(c) && hidden(c) && c >= 0x7f || alone) {
        if (out == null) {
          out = new StringBuilder(text.substring(0, i));
        }
        out.append("\\u").append(java.util.HexFormat.of().toHexDigits(c));
      } else if (out != null) {
        out.append(c);
      }
    }
    return out == null ? text : out.toString();
  }

  private static String shown(String text, boolean lines) {
    StringBuilder out = null;
    int step;
    for (int i = 0; i < text.length(); i += step) {
      int c = text.codePointAt(i);
      step = Character.charCount(c);
      boolean safe = lines && c == '\n' || !hidden(c);
      if (!safe && out == null) {
        out = new StringBuilder(text.substring(0, i));
      }
      if (out == null) {
        continue;
      }
      if (safe) {
        out.appendCodePoint(c);
      } else if (c < 0x20) {
        out.append((char) (0x2400 + c));
      } else if (c == 0x7f) {
        out.append('\u2421');
      } else {
        out.append("\\u{").append(Integer.toHexString(c)).append('}');
      }
    }
    return out == null ? text : out.toString();
  }

  /** Controls, line separators, marks of direction, and halves of pairs. */
  private static boolean hidden(int c) {
    if (c >= 0x20 && c < 0x7f) {
      return false;
    }
    return c < 0xa0
        || c == 0x61c
        || c >= 0x200e && c <= 0x200f
        || c >= 0x2028 && c <= 0x202e
        || c >= 0x2066 && c <= 0x2069
        || c == 0xfeff
        || c >= 0xd800 && c < 0xe000
        || c >= 0xfff9 && c <= 0xfffb;
  }
}
