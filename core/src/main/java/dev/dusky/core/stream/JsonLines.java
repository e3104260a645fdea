package dev.dusky.core.stream;

import java.util.Arrays;

/**
 * Makes a line of each JSON value of a stream, whether the values stand on lines, over several
 * lines, or one behind the other. Line ends between the tokens of a value become blanks. Only the
 * boundaries are sought: braces, brackets and strings. A line end within a string is malformed: the
 * record ends there, is kept as it is and counted, and the next value begins behind it. Hot.
 */
final class JsonLines {

  private byte[] out = new byte[1 << 16];
  private int length;
  private int depth;
  private boolean string;
  private boolean escape;
  private boolean bare;
  private long malformed;

  /** Takes bytes of the stream; what is ready is in {@link #bytes} then. */
  void take(byte[] in, int from, int to) {
    length = 0;
    int most = 2 * (to - from) + 16;
    if (out.length < most) {
      out = new byte[most];
    }
    for (int i = from; i < to; i++) {
      byte c = in[i];
      if (string) {
        inString(c);
      } else if (depth > 0) {
        inValue(c);
      } else {
        between(c);
      }
    }
    Arrays.fill(out, length, Math.min(out.length, length + 8), (byte) 0);
  }

  private void inString(byte c) {
    if (c == '\n') {
      malformed++;
      end();
      return;
    }
    out[length++] = c;
    if (escape) {
      escape = false;
    } else if (c == '\\') {
      escape = true;
    } else if (c == '"') {
      string = false;
    }
  }

  private void inValue(byte c) {
    switch (c) {
      case '\n', '\r' -> out[length++] = ' ';
      case '{', '[' -> {
        depth++;
        out[length++] = c;
      }
      case '}', ']' -> {
        out[length++] = c;
        if (--depth == 0) {
          end();
        }
      }
      case '"' -> {
        string = true;
        out[length++] = c;
      }
      default -> out[length++] = c;
    }
  }

  /** Outside of objects and arrays: blanks, or a value that is neither, up to its line's end. */
  private void between(byte c) {
    if (c == '{' || c == '[') {
      if (bare) {
        malformed++;
        end();
      }
      depth = 1;
      out[length++] = c;
    } else if (c == '\n' || c == '\r') {
      if (bare) {
        malformed++;
        end();
      }
    } else if (bare || c != ' ' && c != '\t') {
      bare = true;
      out[length++] = c;
    }
  }

  private void end() {
    out[length++] = '\n';
    depth = 0;
    string = false;
    escape = false;
    bare = false;
  }

  /** Whole lines, and the beginning of one that is not. */
  byte[] bytes() {
    return out;
  }

  /** How many of them. */
  int length() {
    return length;
  }

  /** How many records were not objects or arrays, or ended within a string. */
  long malformed() {
    return malformed;
  }
}
