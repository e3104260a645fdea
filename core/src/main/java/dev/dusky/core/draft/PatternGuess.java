package dev.dusky.core.draft;

import dev.dusky.core.table.SqlNames;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Predicate;

/** Groups paths that look like files of one feed, and finds the pattern of a group. */
public final class PatternGuess {

  private static final String DATE = "\\d{4}-\\d{2}-\\d{2}";

  private PatternGuess() {}

  /** The paths by folder and shape, each group under a name that can be its feed's. */
  public static Map<String, List<String>> groups(List<String> paths) {
    Map<String, List<String>> shapes = new TreeMap<>();
    for (String path : paths) {
      shapes.computeIfAbsent(shape(path), s -> new ArrayList<>()).add(path);
    }
    Map<String, Integer> folders = new TreeMap<>();
    shapes.values().forEach(group -> folders.merge(folder(group.get(0)), 1, Integer::sum));
    Map<String, List<String>> named = new LinkedHashMap<>();
    shapes.forEach(
        (shape, group) -> {
          String path = group.get(0);
          String folder = folder(path);
          boolean alone = !folder.isEmpty() && folders.get(folder) == 1;
          String name = SqlNames.of(alone ? folder : stem(path, folder), 1);
          String unique = name;
          for (int n = 2; named.containsKey(unique); n++) {
            unique = name + "_" + n;
          }
          named.put(unique, group);
        });
    return named;
  }

  /** A name for the feed of files like this one, from its own name. */
  static String name(String path) {
    return SqlNames.of(stem(path, folder(path)), 1);
  }

  /** A path without its digits: files that differ in nothing else are of one feed. */
  static String letters(String path) {
    return path.replaceAll("\\d+", "");
  }

  /** The first folder, which says what the files are about. */
  private static String folder(String path) {
    return path.contains("/") ? path.substring(0, path.indexOf('/')) : "";
  }

  private static String fileName(String path) {
    return path.substring(path.lastIndexOf('/') + 1);
  }

  private static String stem(String path, String folder) {
    String stem = fileName(path).replaceFirst("\\..*", "").replaceAll("[^\\p{L}]+", " ").strip();
    return stem.isEmpty() ? folder : stem;
  }

  /** A path with what changes from file to file taken out: its folder, and its extension. */
  private static String shape(String path) {
    String name = fileName(path);
    String extension = name.contains(".") ? name.substring(name.indexOf('.')) : "";
    String letters =
        path.contains("/") ? "" : name.replaceFirst("\\..*", "").replaceAll("[^\\p{L}]+", "");
    return folder(path) + "/" + letters + extension.replaceAll("\\d+", "#");
  }

  /** The narrowest pattern that takes all the paths, and others like them. */
  public static String pattern(List<String> paths) {
    List<String[]> split = paths.stream().map(path -> path.split("/")).toList();
    int depth = split.get(0).length;
    if (split.stream().anyMatch(segments -> segments.length != depth)) {
      String name = fileName(paths.get(0));
      String extension = name.contains(".") ? name.substring(name.indexOf('.')) : "";
      return folder(paths.get(0)) + "/**/*" + extension;
    }
    List<String> pattern = new ArrayList<>();
    int days = 0;
    for (int i = 0; i < depth; i++) {
      int at = i;
      List<String> segments = split.stream().map(s -> s[at]).distinct().toList();
      boolean last = i == depth - 1;
      String segment = last ? lastSegment(segments) : folderSegment(segments, days);
      days += segment.contains("{day") ? 1 : 0;
      pattern.add(segment);
    }
    return String.join("/", pattern);
  }

  private static String folderSegment(List<String> segments, int days) {
    String day = days == 0 ? "{day:date}" : "{day_%d:date}".formatted(days + 1);
    if (all(segments, s -> s.matches(DATE))) {
      return day;
    }
    if (all(segments, s -> s.matches("[A-Za-z_][A-Za-z0-9_]*=.*"))) {
      String name = segments.get(0).substring(0, segments.get(0).indexOf('='));
      boolean same = all(segments, s -> s.startsWith(name + "="));
      boolean date = all(segments, s -> s.substring(s.indexOf('=') + 1).matches(DATE));
      if (same) {
        return "%s={%s%s}"
            .formatted(name, name.toLowerCase(java.util.Locale.ROOT), date ? ":date" : "");
      }
    }
    return segments.size() == 1 && segments.get(0).chars().noneMatch(Character::isDigit)
        ? segments.get(0)
        : common(segments);
  }

  private static String lastSegment(List<String> names) {
    return common(names);
  }

  private static boolean all(List<String> segments, Predicate<String> holds) {
    return segments.stream().allMatch(holds);
  }

  /** Their common beginning and end, with changing digits, and a star between. */
  private static String common(List<String> texts) {
    // A single digit in a lone name, as in co2, belongs to the word.
    String digits =
        texts.size() > 1 ? "\\d[\\d._-]*\\d|\\d" : "\\d[\\d._-]*\\d|(?<![\\p{L}])\\d(?![\\p{L}])";
    Function<String, String> starred = t -> t.replaceAll(digits, "*");
    List<String> shapes = texts.stream().map(t -> name(t, starred)).distinct().toList();
    if (shapes.size() == 1) {
      return shapes.get(0).replaceAll("\\*+", "*");
    }
    String first = shapes.get(0);
    int prefix = first.length();
    int suffix = first.length();
    for (String shape : shapes) {
      int p = 0;
      while (p < Math.min(prefix, shape.length()) && shape.charAt(p) == first.charAt(p)) {
        p++;
      }
      prefix = Math.min(prefix, p);
      int s = 0;
      while (s < Math.min(suffix, shape.length())
          && shape.charAt(shape.length() - 1 - s) == first.charAt(first.length() - 1 - s)) {
        s++;
      }
      suffix = Math.min(suffix, s);
    }
    int shortest = shapes.stream().mapToInt(String::length).min().orElse(0);
    suffix = Math.min(suffix, shortest - prefix);
    String text = first.substring(0, prefix) + "*" + first.substring(first.length() - suffix);
    return text.replaceAll("\\*+", "*");
  }

  /** Stars for the digits of a name, but not for those of its extension. */
  private static String name(String text, Function<String, String> starred) {
    int dot = text.indexOf('.');
    return dot < 0
        ? starred.apply(text)
        : starred.apply(text.substring(0, dot)) + text.substring(dot);
  }
}
