package dev.dusky.core.expression;

import dev.dusky.core.type.TypeKind;

/** {@code like}: _ represents one character, % for any number. */
final class LikePattern {

  private LikePattern() {}

  static Step step(Step text, Step pattern, Step escape) {
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          boolean known = text.eval(row) & pattern.eval(row);
          int mark = '\\';
          if (escape != null) {
            if (!escape.eval(row)) {
              return false;
            }
            int length = escape.to - escape.from;
            if (length > 1) {
              throw new NoResult("the escape of like must be one character or none");
            }
            mark = length == 0 ? -1 : escape.b[escape.from];
          }
          return known && s.set(fits(text.b, text.from, text.to, pattern, pattern.from, mark));
        });
  }

  private static boolean fits(byte[] t, int from, int to, Step pattern, int patternFrom, int mark) {
    byte[] p = pattern.b;
    int end = pattern.to;
    int i = from;
    int j = patternFrom;
    int star = -1;
    int resume = 0;
    while (true) {
      if (j < end && p[j] == '%') {
        star = ++j;
        resume = i;
        continue;
      }
      if (i == to && j == end) {
        return true;
      }
      if (i < to && j < end) {
        boolean literal = mark >= 0 && p[j] == mark;
        if (literal && j + 1 == end) {
          throw new NoResult("the pattern of like must not end with its escape");
        }
        int at = literal ? j + 1 : j;
        if (!literal && p[at] == '_') {
          i = next(t, i, to);
          j = at + 1;
          continue;
        }
        if (p[at] == t[i]) {
          i++;
          j = at + 1;
          continue;
        }
      }
      if (star < 0 || resume >= to) {
        return false;
      }
      resume = next(t, resume, to);
      i = resume;
      j = star;
    }
  }

  private static int next(byte[] t, int at, int to) {
    int i = at + 1;
    while (i < to && (t[i] & 0xc0) == 0x80) {
      i++;
    }
    return i;
  }
}
