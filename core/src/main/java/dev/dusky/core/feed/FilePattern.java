package dev.dusky.core.feed;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A pattern of file paths: {@code *} matches any characters but a slash, {@code **} any characters,
 * {@code ?} for one character but a slash, <code>{name}</code> for one or more characters but a
 * slash that are captured under a name, <code>{name:date}</code> and <code>
 * {name:integer}</code> for such a date or number; all else for itself. Folders of the form {@code
 * name=value} are captured too.
 *
 * <p>The time that matching takes grows with the path and no faster, whatever the pattern.
 *
 * <p>Behind {@code !/} is the pattern of an archive's members; without it all members of a matching
 * archive match.
 */
public final class FilePattern {

  private static final java.util.regex.Pattern CAPTURE =
      java.util.regex.Pattern.compile("\\{([a-z_][a-z0-9_]*)(?::(date|integer|text))?\\}");
  private static final java.util.regex.Pattern FOLDER =
      java.util.regex.Pattern.compile("([A-Za-z_][A-Za-z0-9_]*)=([^/]*)(?=/)");

  private final String text;
  private final List<String> names = new ArrayList<>();
  private final Pattern regex;
  private final Pattern archives;

  private FilePattern(String text) {
    this.text = text;
    this.regex = Pattern.compile(regex(text), Pattern.DOTALL);
    int inside = text.indexOf("!/");
    List<String> own = List.copyOf(names);
    names.clear();
    this.archives =
        inside < 0 ? null : Pattern.compile(regex(text.substring(0, inside)), Pattern.DOTALL);
    names.clear();
    names.addAll(own);
  }

  /**
   * Compiles a pattern.
   *
   * @throws IllegalArgumentException with a message for people if a capture is malformed
   */
  public static FilePattern of(String text) {
    return new FilePattern(text);
  }

  private String regex(String pattern) {
    StringBuilder out = new StringBuilder();
    int i = 0;
    while (i < pattern.length()) {
      char c = pattern.charAt(i);
      if (pattern.startsWith("**/", i)) {
        out.append("(?:.*/)?");
        i += 3;
      } else if (pattern.startsWith("**", i)) {
        out.append(".*");
        i += 2;
      } else if (c == '{') {
        i = capture(pattern, i, out);
      } else {
        out.append(c == '*' ? "[^/]*" : c == '?' ? "[^/]" : Pattern.quote(Character.toString(c)));
        i++;
      }
    }
    return pattern.contains("!/") ? out.toString() : out + "(?:!/.*)?";
  }

  private int capture(String pattern, int at, StringBuilder out) {
    java.util.regex.Matcher capture = CAPTURE.matcher(pattern);
    if (!capture.find(at) || capture.start() != at) {
      throw new IllegalArgumentException(
          "'%s': at character %d, {name}, {name:date} or {name:integer} is expected"
              .formatted(pattern, at + 1));
    }
    String name = capture.group(1);
    if (names.contains(name)) {
      throw new IllegalArgumentException("'%s' captures '%s' twice".formatted(pattern, name));
    }
    names.add(name);
    String form = capture.group(2) == null ? "text" : capture.group(2);
    out.append(
        switch (form) {
          case "date" -> "(\\d{4}-\\d{2}-\\d{2})";
          case "integer" -> "(\\d+)";
          default -> "([^/]+?)";
        });
    return capture.end();
  }

  /** Whether the path fits the pattern; an archive whose members do not show fits by its own. */
  public boolean matches(String path) {
    return regex.matcher(path).matches()
        || archives != null && !path.contains("!/") && archives.matcher(path).matches();
  }

  /** The names that the pattern itself captures. */
  public List<String> captureNames() {
    return List.copyOf(names);
  }

  /** The names that capture a date. */
  public List<String> dateNames() {
    return names.stream().filter(name -> text.contains("{" + name + ":date}")).toList();
  }

  /** Where in a matching path a capture of the pattern begins; -1 if the path does not fit. */
  public int captureAt(String path, String name) {
    Matcher matcher = regex.matcher(path);
    return matcher.matches() ? matcher.start(names.indexOf(name) + 1) : -1;
  }

  /** The captures of a matching path, folders of the form name=value included. */
  public Map<String, String> captures(String path) {
    Map<String, String> captures = new LinkedHashMap<>();
    java.util.regex.Matcher folders = FOLDER.matcher(path);
    while (folders.find()) {
      captures.put(folders.group(1).toLowerCase(java.util.Locale.ROOT), folders.group(2));
    }
    Matcher matcher = regex.matcher(path);
    if (matcher.matches()) {
      for (int i = 0; i < names.size(); i++) {
        captures.put(names.get(i), matcher.group(i + 1));
      }
    }
    return captures;
  }

  /** Whether members of archives are asked for by name. */
  public boolean namesMembers() {
    return text.contains("!/");
  }

  /** The literal beginning of the pattern: only paths that start with it can fit. */
  public String prefix() {
    int end = 0;
    while (end < text.length() && "*?{".indexOf(text.charAt(end)) < 0) {
      end++;
    }
    int archive = text.indexOf("!/");
    return text.substring(0, archive >= 0 ? Math.min(archive, end) : end);
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
