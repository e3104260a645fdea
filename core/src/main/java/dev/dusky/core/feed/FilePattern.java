package dev.dusky.core.feed;

import java.util.regex.Pattern;

/**
 * A pattern of file paths: {@code *} stands for any characters but a slash, {@code **} for any
 * characters, {@code ?} for one character but a slash; all else for itself.
 */
public final class FilePattern {

  private final String text;
  private final Pattern regex;

  private FilePattern(String text) {
    this.text = text;
    this.regex = Pattern.compile(regex(text), Pattern.DOTALL);
  }

  /** Compiles a pattern. */
  public static FilePattern of(String text) {
    return new FilePattern(text);
  }

  private static String regex(String text) {
    StringBuilder out = new StringBuilder();
    int i = 0;
    while (i < text.length()) {
      char c = text.charAt(i);
      if (text.startsWith("**/", i)) {
        out.append("(?:.*/)?");
        i += 3;
      } else if (text.startsWith("**", i)) {
        out.append(".*");
        i += 2;
      } else {
        out.append(c == '*' ? "[^/]*" : c == '?' ? "[^/]" : Pattern.quote(Character.toString(c)));
        i++;
      }
    }
    return out.toString();
  }

  /** Whether the path fits the pattern. */
  public boolean matches(String path) {
    return regex.matcher(path).matches();
  }

  /** The literal beginning of the pattern: only paths that start with it can fit. */
  public String prefix() {
    int end = 0;
    while (end < text.length() && "*?".indexOf(text.charAt(end)) < 0) {
      end++;
    }
    return text.substring(0, end);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof FilePattern pattern && pattern.text.equals(text);
  }

  @Override
  public int hashCode() {
    return text.hashCode();
  }

  /** The pattern as declared. */
  @Override
  public String toString() {
    return text;
  }
}
