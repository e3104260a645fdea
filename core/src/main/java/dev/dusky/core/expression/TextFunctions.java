package dev.dusky.core.expression;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.dusky.core.type.TypeKind;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Locale;

/** Functions of texts. The common ones work on bytes; positions count characters. */
final class TextFunctions {

  /** The longest text that a function gives, in bytes; more than a record may have as a rule. */
  private static final int MOST_LENGTH = 16 << 20;

  /** The longest regular expression, in characters. */
  private static final int MOST_PATTERN = 1_000;

  private static final TypeKind TEXT = TypeKind.TEXT;
  private static final TypeKind INTEGER = TypeKind.INTEGER;

  private TextFunctions() {}

  static void register() {
    Functions.add("upper", 1, a -> letters(a[0], true), TEXT);
    Functions.add("lower", 1, a -> letters(a[0], false), TEXT);
    text("initcap", (t, x, y) -> initcap(t.text()), TEXT);
    Functions.add("trim", 1, a -> trim(a[0], null, true, true), TEXT);
    Functions.add("btrim", 1, a -> trim(a[0], a.length > 1 ? a[1] : null, true, true), TEXT, TEXT);
    Functions.add("ltrim", 1, a -> trim(a[0], a.length > 1 ? a[1] : null, true, false), TEXT, TEXT);
    Functions.add("rtrim", 1, a -> trim(a[0], a.length > 1 ? a[1] : null, false, true), TEXT, TEXT);
    for (String name : new String[] {"length", "char_length", "character_length"}) {
      Functions.add(
          name,
          1,
          a ->
              new Step(
                  INTEGER,
                  (s, row) -> a[0].eval(row) && s.set(characters(a[0].b, a[0].from, a[0].to))),
          TEXT);
    }
    number("octet_length", a -> (long) a.to - a.from);
    number("ascii", a -> a.from == a.to ? 0 : a.text().codePointAt(0));
    for (String name : new String[] {"substring", "substr"}) {
      Functions.add(
          name, 2, a -> substring(a[0], a[1], a.length > 2 ? a[2] : null), TEXT, INTEGER, INTEGER);
    }
    Functions.add(
        "strpos",
        2,
        a ->
            new Step(
                INTEGER,
                (s, row) ->
                    a[0].eval(row) & a[1].eval(row) && s.set(position(a[0].text(), a[1].text()))),
        TEXT,
        TEXT);
    text("left", (t, n, x) -> cut(t, 0, n.whole), TEXT, INTEGER);
    text("right", (t, n, x) -> right(t, n.whole), TEXT, INTEGER);
    text("replace", (t, x, y) -> replace(t, x.text(), y.text()), TEXT, TEXT, TEXT);
    text("translate", (t, x, y) -> translate(t.text(), x.text(), y.text()), TEXT, TEXT, TEXT);
    text("split_part", (t, x, n) -> splitPart(t.text(), x.text(), n.whole), TEXT, TEXT, INTEGER);
    text("reverse", (t, x, y) -> new StringBuilder(t.text()).reverse().toString(), TEXT);
    text("repeat", (t, n, x) -> repeat(t, n.whole), TEXT, INTEGER);
    text("lpad", (t, n, x) -> pad(t, n.whole, x.text(), true), TEXT, INTEGER, TEXT);
    text("lpad", (t, n, x) -> pad(t, n.whole, " ", true), TEXT, INTEGER);
    text("rpad", (t, n, x) -> pad(t, n.whole, x.text(), false), TEXT, INTEGER, TEXT);
    text("rpad", (t, n, x) -> pad(t, n.whole, " ", false), TEXT, INTEGER);
    text("md5", (t, x, y) -> md5(t), TEXT);
    Functions.add(
        "chr", 1, a -> new Step(TEXT, (s, row) -> a[0].eval(row) && chr(s, a[0])), INTEGER);
    Functions.add("overlay", 3, TextFunctions::overlay, TEXT, TEXT, INTEGER, INTEGER);
    Functions.add(
        "starts_with",
        2,
        a ->
            new Step(
                TypeKind.BOOLEAN,
                (s, row) ->
                    a[0].eval(row) & a[1].eval(row) && s.set(a[0].text().startsWith(a[1].text()))),
        TEXT,
        TEXT);
    Functions.add("regexp_like", 2, TextFunctions::regexpLike, TEXT, TEXT);
    Functions.check("regexp_like", 1, (pattern, a) -> regex(pattern));
    Functions.addRepeating("concat", 1, a -> Concatenation.ofAll(a, 0), (TypeKind) null);
    Functions.addRepeating("concat_ws", 2, a -> Concatenation.ofAll(a, 1), TEXT, null);
  }

  /** A function of one text and up to two more arguments; null if any is. */
  private interface Plain {
    String of(Step text, Step second, Step third);
  }

  private static void text(String name, Plain function, TypeKind... parameters) {
    Functions.add(
        name,
        parameters.length,
        a ->
            new Step(
                TEXT,
                (s, row) -> {
                  boolean known = true;
                  for (Step argument : a) {
                    known &= argument.eval(row);
                  }
                  return known
                      && s.setText(
                          function.of(
                              a[0], a.length > 1 ? a[1] : null, a.length > 2 ? a[2] : null));
                }),
        parameters);
  }

  /** A number made from a text. */
  private interface Measure {
    long of(Step text);
  }

  private static void number(String name, Measure measure) {
    Functions.add(
        name,
        1,
        a -> new Step(INTEGER, (s, row) -> a[0].eval(row) && s.set(measure.of(a[0]))),
        TEXT);
  }

  static int checked(long length) {
    if (length > MOST_LENGTH) {
      throw new NoResult("the text would be too long");
    }
    return (int) length;
  }

  private static Step letters(Step a, boolean upper) {
    return new Step(
        TEXT,
        (s, row) -> {
          if (!a.eval(row)) {
            return false;
          }
          if (!a.isAscii()) {
            return s.setText(letters(a.text(), upper));
          }
          byte[] room = s.room(a.to - a.from);
          for (int i = a.from; i < a.to; i++) {
            byte c = a.b[i];
            boolean change = upper ? c >= 'a' && c <= 'z' : c >= 'A' && c <= 'Z';
            room[i - a.from] = (byte) (change ? c ^ 0x20 : c);
          }
          return s.setText(room, 0, a.to - a.from);
        });
  }

  /** Character by character, without the special cases of single letters that become several. */
  private static String letters(String text, boolean upper) {
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .map(upper ? Character::toUpperCase : Character::toLowerCase)
        .forEach(out::appendCodePoint);
    return out.toString();
  }

  private static String initcap(String text) {
    StringBuilder out = new StringBuilder();
    boolean inWord = false;
    for (int c : text.codePoints().toArray()) {
      out.appendCodePoint(inWord ? Character.toLowerCase(c) : Character.toUpperCase(c));
      inWord = Character.isLetterOrDigit(c);
    }
    return out.toString();
  }

  private static Step trim(Step a, Step characters, boolean left, boolean right) {
    return new Step(
        TEXT,
        (s, row) -> {
          boolean known = a.eval(row);
          if (characters != null && !characters.eval(row) || !known) {
            return false;
          }
          if (characters != null
              && (!characters.isAscii() || characters.to - characters.from != 1)) {
            return s.setText(trimmed(a.text(), characters.text(), left, right));
          }
          byte blank = characters == null ? (byte) ' ' : characters.b[characters.from];
          int from = a.from;
          int to = a.to;
          while (left && from < to && a.b[from] == blank) {
            from++;
          }
          while (right && to > from && a.b[to - 1] == blank) {
            to--;
          }
          return s.setText(a.b, from, to);
        });
  }

  private static String trimmed(String text, String characters, boolean left, boolean right) {
    int[] points = text.codePoints().toArray();
    int from = 0;
    int to = points.length;
    while (left && from < to && characters.indexOf(points[from]) >= 0) {
      from++;
    }
    while (right && to > from && characters.indexOf(points[to - 1]) >= 0) {
      to--;
    }
    return new String(points, from, to - from);
  }

  static long characters(byte[] b, int from, int to) {
    int count = 0;
    for (int i = from; i < to; i++) {
      count += (b[i] & 0xc0) != 0x80 ? 1 : 0;
    }
    return count;
  }

  /** The position after that many characters, or the end. */
  static int skip(byte[] b, int from, int to, long characters) {
    int i = from;
    for (long left = characters; left > 0 && i < to; left--) {
      i++;
      while (i < to && (b[i] & 0xc0) == 0x80) {
        i++;
      }
    }
    return i;
  }

  private static Step substring(Step a, Step from, Step length) {
    return new Step(
        TEXT,
        (s, row) -> {
          boolean known = a.eval(row) & from.eval(row);
          if (length != null && !length.eval(row) || !known) {
            return false;
          }
          long first = from.whole;
          long last = Long.MAX_VALUE;
          if (length != null) {
            if (length.whole < 0) {
              throw new NoResult("the length of a substring is negative");
            }
            last = first + length.whole;
          }
          first = Math.max(first, 1);
          int start = skip(a.b, a.from, a.to, first - 1);
          int end = last <= first ? start : skip(a.b, start, a.to, last - first);
          return s.setText(a.b, start, end);
        });
  }

  private static long position(String text, String part) {
    int at = text.indexOf(part);
    return at < 0 ? 0 : text.codePointCount(0, at) + 1L;
  }

  private static String cut(Step t, int from, long count) {
    long length = characters(t.b, t.from, t.to);
    long keep = count < 0 ? Math.max(0, length + count) : count;
    int end = skip(t.b, t.from, t.to, keep);
    return new String(t.b, t.from + from, end - t.from - from, StandardCharsets.UTF_8);
  }

  private static String right(Step t, long count) {
    long length = characters(t.b, t.from, t.to);
    long drop = count < 0 ? -count : Math.max(0, length - count);
    int start = skip(t.b, t.from, t.to, drop);
    return new String(t.b, start, t.to - start, StandardCharsets.UTF_8);
  }

  private static String replace(Step t, String from, String to) {
    String text = t.text();
    if (from.isEmpty()) {
      return text;
    }
    long length = text.length();
    for (int at = text.indexOf(from); at >= 0; at = text.indexOf(from, at + from.length())) {
      length += to.length() - from.length();
    }
    checked(length);
    return text.replace(from, to);
  }

  private static String translate(String text, String from, String to) {
    int[] source = from.codePoints().toArray();
    int[] target = to.codePoints().toArray();
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .forEach(
            c -> {
              int at = 0;
              while (at < source.length && source[at] != c) {
                at++;
              }
              if (at == source.length) {
                out.appendCodePoint(c);
              } else if (at < target.length) {
                out.appendCodePoint(target[at]);
              }
            });
    return out.toString();
  }

  private static String splitPart(String text, String delimiter, long number) {
    if (number == 0) {
      throw new NoResult("the parts of split_part are counted from 1, or from -1 at the end");
    }
    String[] parts =
        delimiter.isEmpty() || text.isEmpty()
            ? new String[] {text}
            : text.split(java.util.regex.Pattern.quote(delimiter), -1);
    long at = number > 0 ? number - 1 : parts.length + number;
    return at >= 0 && at < parts.length ? parts[(int) at] : "";
  }

  private static String repeat(Step t, long count) {
    checked((t.to - t.from) * Math.max(0, count));
    return t.text().repeat((int) Math.max(0, count));
  }

  private static String pad(Step t, long length, String fill, boolean left) {
    checked(length);
    int[] text = t.text().codePoints().toArray();
    int[] filler = fill.codePoints().toArray();
    int size = (int) Math.max(0, length);
    if (text.length >= size || filler.length == 0) {
      return new String(text, 0, Math.min(text.length, size));
    }
    int missing = size - text.length;
    StringBuilder padding = new StringBuilder();
    for (int i = 0; i < missing; i++) {
      padding.appendCodePoint(filler[i % filler.length]);
    }
    return left ? padding + t.text() : t.text() + padding;
  }

  private static String md5(Step t) {
    try {
      MessageDigest digest = MessageDigest.getInstance("MD5");
      digest.update(t.b, t.from, t.to - t.from);
      return HexFormat.of().formatHex(digest.digest());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java runtime has MD5", e);
    }
  }

  private static boolean chr(Step s, Step a) {
    if (a.whole <= 0 || a.whole > 0x10ffff || a.whole >= 0xd800 && a.whole < 0xe000) {
      throw new NoResult("%d is not a character".formatted(a.whole));
    }
    return s.setText(Character.toString((int) a.whole));
  }

  private static Step overlay(Step[] a) {
    return new Step(
        TEXT,
        (s, row) -> {
          boolean known = true;
          for (Step argument : a) {
            known &= argument.eval(row);
          }
          if (!known) {
            return false;
          }
          long start = a[2].whole;
          if (start <= 0) {
            throw new NoResult("the start of an overlay must be 1 at least");
          }
          long length = a.length > 3 ? a[3].whole : characters(a[1].b, a[1].from, a[1].to);
          int[] text = a[0].text().codePoints().toArray();
          int head = (int) Math.min(start - 1, text.length);
          int tail = (int) Math.max(0, Math.min(start - 1 + length, text.length));
          return s.setText(
              new String(text, 0, head) + a[1].text() + new String(text, tail, text.length - tail));
        });
  }

  private static Step regexpLike(Step[] a) {
    Pattern[] last = new Pattern[1];
    return new Step(
        TypeKind.BOOLEAN,
        (s, row) -> {
          if (!(a[0].eval(row) & a[1].eval(row))) {
            return false;
          }
          String pattern = a[1].text();
          if (last[0] == null || !last[0].pattern().equals(pattern)) {
            last[0] = regex(pattern);
          }
          return s.set(last[0].matcher(a[0].text()).find());
        });
  }

  /** Compiles an expression for an engine whose time grows with the text and no faster. */
  private static Pattern regex(String pattern) {
    if (pattern.length() > MOST_PATTERN) {
      throw new NoResult(
          "the regular expression has more than %,d characters".formatted(MOST_PATTERN));
    }
    try {
      return Pattern.compile(pattern, Pattern.DOTALL);
    } catch (PatternSyntaxException e) {
      throw new NoResult(
          "'%s' is not a regular expression of RE2: %s".formatted(pattern, e.getDescription()));
    }
  }

  /** Lower case for names of fields and units. */
  static String word(Step step) {
    return step.text().toLowerCase(Locale.ROOT);
  }
}
